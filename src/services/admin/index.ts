export {
  type Actor,
  actorNamed,
  authorise,
  DEMO_ACTOR,
  ESTATE,
  isAllowed,
  METRIC_SOURCE,
  NotAllowedError,
  type Right,
  type Scope,
  type Visible,
  visibleTo,
  WORKER,
} from "./actor";
export { askForDaily } from "./ask-for-daily";
export { openServices, type Services } from "./context";
export { type FieldIssue, noRoom, ProviderError, RefusedError, reasonOf } from "./errors";
export { keepHouse } from "./housekeeping";
export { keepQueue } from "./keep-queue";
export { listen } from "./listen";
export { FAILED_LEAST, metricsText, readiness } from "./monitor";
export { connectAccounts, emptyDatabase, isAnswering, migrateDatabase } from "./prepare";
export { ensureSigningKey, readClaim, signClaim } from "./sign";
export { CutOffError, openThread, type Thread, TooHeavyError } from "./thread";
