export { type AccountView, recordsFrom, regionPlaces, regionZones, setupView } from "./accounts";
export { type Tense, type WorldAt, withPlansAt, worldAt } from "./as-of";
export { type Claim, claimsOf, followingOf } from "./claims";
export { type FindQuery, type Found, type FoundResource, findResources } from "./find";
export { livesOfDay } from "./kept-lives";
export { type MissingStart, type OpenMachine, openMachine } from "./machine";
export { type LifeRun, type MachineLife, machineLife } from "./machine-life";
export { mixesAhead } from "./mixes-ahead";
export { readClouds } from "./read-clouds";
export {
  byProvider,
  capabilitiesByAccount,
  compileAll,
  currencyOf,
  loadWorld,
  placeIn,
  plansInForce,
  resourcesByFleet,
  type StoredWorld,
  tagKeysOf,
} from "./stored";
export { type LifeWeek, type LifeWeeks, lifeWeeks, WEEKS_MAX } from "./weeks";
export { worldFor } from "./world-for";
