export type { HoursBy, Picture, SweepPoint, TriedResource } from "./messages";
export { type IdleTrials, openIdleTrials } from "./trials";
