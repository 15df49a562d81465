export { memberUnits, mixedGroups } from "./mixed-groups";
export { observedInRegion, poolObserved, SEEN_DAYS, type SizeObserved } from "./observed";
export { type MixOffer, type MixOffers, mixOffers } from "./offers";
export { pricedMix } from "./priced";
export { pricesSeen } from "./prices-seen";
export { reconcileMixes } from "./reconcile-mixes";
export type { MixReconciling } from "./reconciling";
export { type EvictionLine, type KeptNow, type MixStory, type MixStoryQuery, mixStory } from "./story";
export { endStudyEarly, runStudy, type StudyRequest, type StudyView, startStudy, studyOf } from "./study";
