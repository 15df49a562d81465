export { PROVIDER_METRICS } from "./known";
export { type UsualLateness, usualLatenessNow } from "./lateness";
export type { Stranger } from "./near-hosts";
export { askHistory, pullLatest, readHistory, type Tried, tryPull } from "./pull";
export { receivePush } from "./push";
export { BACK_S, readLatest } from "./read-latest";
export { readMetrics } from "./read-metrics";
export {
  dropSource,
  editSource,
  makeSource,
  metricSources,
  pauseSource,
  renewKey,
  type SourceView,
  tryNaming,
} from "./sources";
export { takeSamples } from "./take-samples";
