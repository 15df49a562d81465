export { keepMixes } from "./keep-mixes";
export type { KeepingMixes } from "./keeping";
export { memberUnits, mixedGroups } from "./mixed-groups";
export { type MixOffer, type MixOffers, mixOffers } from "./offers";
export { pricedMix } from "./priced";
export { pricesSeen } from "./prices-seen";
export { poolSeen, SEEN_DAYS, type SizeSeen, seenInRegion } from "./seen";
export { type EvictionLine, type KeptNow, type MixStory, type MixStoryQuery, mixStory } from "./story";
export { endStudyEarly, runStudy, type StudyRequest, type StudyView, startStudy, studyOf } from "./study";
