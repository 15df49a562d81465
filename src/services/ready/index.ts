export { type PoolHistoryQuery, poolHistory } from "./history";
export { keepReady, poolsOf, SESSION_METRICS } from "./keep-ready";
export { startsForSignIns } from "./sign-ins";
