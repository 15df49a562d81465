export { type AccountView, recordsFrom, regionPlaces, regionZones, setupView } from "./accounts";
export { type SnapshotAt, snapshotAt, type Tense, withPlansAt } from "./as-of";
export { type Claim, claimsOf, followingOf } from "./claims";
export { type FindQuery, type Found, type FoundResource, findResources } from "./find";
export { livesOfDay } from "./kept-lives";
export { type MissingStart, type OpenMachine, openMachine } from "./machine";
export { type LifeRun, type MachineLife, machineLife } from "./machine-life";
export { mixesAhead } from "./mixes-ahead";
export { likelyTerms, poolsAhead } from "./pools-ahead";
export { readClouds } from "./read-clouds";
export {
  byProvider,
  capabilitiesByAccount,
  compileAll,
  currencyOf,
  loadSnapshot,
  placeIn,
  plansInForce,
  resourcesByFleet,
  type Snapshot,
  tagKeysOf,
} from "./snapshot";
export { snapshotFor } from "./snapshot-for";
export { likelyIdleOf, usedAhead } from "./used-ahead";
export { type LifeWeek, type LifeWeeks, lifeWeeks, WEEKS_MAX } from "./weeks";
