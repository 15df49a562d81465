export { type AccountView, regionPlaces, regionZones, setupView } from "./accounts";
export { type Tense, type WorldAt, worldAt } from "./as-of";
export { type Claim, claimsOf } from "./claims";
export { livesOfDay } from "./kept-lives";
export { type OpenMachine, openMachine } from "./machine";
export { readClouds } from "./read-clouds";
export { capabilitiesByProvider, compileAll, currencyOf, loadWorld, resourcesByFleet, type StoredWorld } from "./stored";
