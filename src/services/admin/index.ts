export { askForDaily } from "./ask-for-daily";
export { openServices, type Services } from "./context";
export { type FieldIssue, ProviderError, RefusedError } from "./errors";
export { keepHouse } from "./housekeeping";
export { listen } from "./listen";
export { authorise, DEMO_PERSON, NotAllowedError, type Person, ROUNDS_WORKER } from "./person";
export { connectAccounts, emptyDatabase, isAnswering, migrateDatabase } from "./prepare";
