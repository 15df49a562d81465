export { namedBy } from "./conventions";
export { type Counter, readCounter } from "./counters";
export { type CameLate, LATENESS_MAX_MINUTES, minutesLate, usualLateness } from "./lateness";
export {
  identityOf,
  type Matched,
  matchIdentity,
  type Nameable,
  type NameIndex,
  type NamingRule,
  nameIndex,
  nearFinder,
  withoutDomain,
} from "./match";
export type { Attributes, Point, PointValue } from "./points";
export { type HostSample, type Reduced, reducePoints, seriesName } from "./reduce";
