export { type Capabilities, capabilitiesSchema } from "./capabilities";
export {
  type FleetDraft,
  fleetDraftSchema,
  planToDraft,
  type RowDraft,
  type ScheduleDraft,
  tryDraftToPlan,
} from "./draft";
export { type FleetPlan, fleetSchema, type PlanFile, planFileSchema, selectorTextSchema } from "./file";
export { type FileIssue, type FileResult, parseFile, parsePlanFile } from "./parse";
export {
  type Earlier,
  GUARD_TAG,
  isGuarded,
  isRunningState,
  isSchedulable,
  type ListedResource,
  listedAt,
  RESOURCE_KINDS,
  RESOURCE_STATES,
  type Resource,
  type ResourceKind,
  type ResourceState,
} from "./resource";
export { type PlanFormat, planToText, type WholePlan } from "./write";
