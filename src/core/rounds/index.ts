export { actionToward, VERBS, type Verb, type Wanted, whyNoHibernation } from "./action";
export { claimer } from "./claim";
export {
  DEFAULT_LIMITS,
  type Decision,
  decide,
  type Limits,
  type OpenAction,
  type RoundInput,
  type Verdict,
} from "./decide";
export { type Due, dueAt, type Hold, type HoursFor, type HoursNow, type HoursSource, hoursAt } from "./due";
export { type DueEdge, type Following, nextDueEdges } from "./due-edges";
export { type DueSpan, dueOver } from "./due-over";
export { dueReader } from "./due-reader";
export { decideFirstRound, type FirstRoundInput } from "./first-round";
export { type HoursFinder, type HoursOf, hoursFinder, zoneOf } from "./hours-of";
export { type AheadSpan, lifeAhead } from "./life-ahead";
export { highestLevel, ownSizeOf } from "./own-size";
