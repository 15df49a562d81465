export { readMetrics } from "./read-metrics";
