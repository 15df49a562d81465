export * from "./accounts";
export * from "./acknowledged";
export * from "./action-search";
export * from "./actions";
export * from "./alarms";
export * from "./approved-stops";
export { CACHES, cache, forgetAll } from "./caches";
export * from "./calendars";
export * from "./changes";
export { type DataTag, keptBeside, tagged, tagOf } from "./data-tags";
export * from "./data-versions";
export * from "./doubts";
export * from "./fleet-care";
export * from "./fleet-order";
export * from "./fleets";
export { type Gauges, readGauges } from "./gauges";
export * from "./held-stops";
export * from "./hours-seen";
export * from "./hours-versions";
export * from "./in-pieces";
export * from "./inventory";
export { addJob, type Job, keepWorkers } from "./jobs";
export { forgetAlarmChanges, forgetJournal, forgetStates } from "./journal-retention";
export { asLeader, type Lead, LostLeadError, whileLeading } from "./lead";
export { type Forecasts, keepForecasts, leverDays, type StoredLeverDay } from "./lever-days";
export { forgetLikelyUse, type LikelyUse, likelyUseList, saveLikelyUse } from "./likely-use";
export * from "./lives";
export * from "./metric-hosts";
export * from "./metric-lateness";
export { dropMetricNames, metricsKnown } from "./metric-names";
export * from "./metric-sources";
export * from "./metrics";
export { dropEverything, migrate, whatTablesHold } from "./migrate";
export * from "./mix";
export * from "./mix-gaps";
export * from "./mix-studies";
export { changeOverrides, endOverridesOn } from "./override-changes";
export {
  addHold,
  endedOverrides,
  type NewHold,
  overridesAround,
  overridesBetween,
  overridesFrom,
  overridesKnownAt,
  releaseHoldNow,
  type StoredOverride,
  setHoldEnd,
} from "./overrides";
export * from "./partitions";
export * from "./pauses";
export { type Db, openPool, type Pool, type PoolClient, touch } from "./pool";
export * from "./price-history";
export * from "./price-imports";
export * from "./prices";
export * from "./realised";
export { recentDays } from "./recent-days";
export { foldRecent, type RecentSample, recentSamples, type SeriesState, saveRecent, seriesStates } from "./recent-samples";
export * from "./report";
export { fixOwnSizes, RESOURCES_MAX, saveResources } from "./resources";
export * from "./retention";
export * from "./rounds";
export * from "./schedules";
export * from "./session-events";
export * from "./settings";
export * from "./signals";
export * from "./spend";
export * from "./starts";
export { inTransaction, inTransactionAgain } from "./transaction";
export { firstTrips, tripSpans } from "./trip-spans";
export * from "./trips";
export * from "./usage";
export * from "./webhooks";
export { ListTooLongError } from "./whole";
