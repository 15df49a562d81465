export { type PoolHistoryQuery, poolHistory } from "./history";
export { poolChanges, poolFacts, poolsOf, SESSION_METRICS } from "./reconcile-pools";
export { signInFacts, startsForSignIns } from "./sign-ins";
