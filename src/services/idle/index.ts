export { metricsWatched, watchIdle } from "./watch-idle";
