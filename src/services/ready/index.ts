export { type PoolForecast, poolForecast, type TriedSpare } from "./forecast";
export { keepReady, poolsOf, SESSION_METRICS } from "./keep-ready";
export { startsForSignIns } from "./sign-ins";
