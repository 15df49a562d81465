export { type PoolHistoryQuery, poolHistory } from "./history";
export { poolChanges, poolFacts, poolsOf, SESSION_METRICS } from "./keep-ready";
export { signInFacts, startsForSignIns } from "./sign-ins";
