export { askedOf, onlyLowers } from "./by-hand";
export { type Capabilities, type CapabilitiesByAccount, capabilitiesFor, capabilitiesSchema } from "./capabilities";
export { changedKeys, differingKeys, PLAN_KEYS, type PlanKey } from "./differing";
export {
  type FleetDraft,
  fleetDraftSchema,
  planToDraft,
  type RowDraft,
  type ScheduleDraft,
  tryDraftToPlan,
} from "./draft";
export { type FleetPlan, fleetSchema, GRACE_MINUTES, type PlanFile, planFileSchema, selectorTextSchema } from "./file";
export { type FileIssue, type FileResult, parseFile, parsePlanFile } from "./parse";
export { type Pooled, pooledSchema, pooledWords } from "./pooled";
export {
  accountNameIssue,
  type Earlier,
  GUARD_HOLDS_S,
  GUARD_TAG,
  hasLife,
  isGuarded,
  isRunningState,
  isSchedulable,
  type ListedResource,
  listedAt,
  providerIdOf,
  RESOURCE_KINDS,
  RESOURCE_STATES,
  type Resource,
  type ResourceKind,
  type ResourceState,
  resourceKey,
  type SetAside,
} from "./resource";
export { type PlanFormat, planToText, type WholePlan } from "./write";
