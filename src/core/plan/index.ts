export { type Capabilities, capabilitiesSchema } from "./capabilities";
export { type FleetDraft, fleetDraftSchema, type RowDraft, type ScheduleDraft } from "./draft";
export { type FleetPlan, fleetSchema, type PlanFile, planFileSchema, selectorTextSchema } from "./file";
export { type FileIssue, type FileResult, parseFile, parsePlanFile } from "./parse";
export {
  GUARD_TAG,
  isGuarded,
  isRunningState,
  isSchedulable,
  type ListedResource,
  RESOURCE_KINDS,
  RESOURCE_STATES,
  type Resource,
  type ResourceKind,
  type ResourceState,
} from "./resource";
export { type PlanFormat, planToText, type WholePlan } from "./write";
