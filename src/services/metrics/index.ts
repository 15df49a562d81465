export { PROVIDER_METRICS } from "./known";
export { BACK_S, readLatest } from "./read-latest";
export { readMetrics } from "./read-metrics";
export { takeSamples } from "./take-samples";
