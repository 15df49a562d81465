export { askForDaily } from "./ask-for-daily";
export { openServices, type Services } from "./context";
export { type FieldIssue, ProviderError, RefusedError } from "./errors";
export { keepHouse } from "./housekeeping";
export { keepQueue } from "./keep-queue";
export { listen } from "./listen";
export { metricsText, readiness } from "./monitor";
export { authorise, DEMO_PERSON, NotAllowedError, type Person, ROUNDS_WORKER } from "./person";
export { connectAccounts, emptyDatabase, isAnswering, migrateDatabase } from "./prepare";
