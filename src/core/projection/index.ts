export { type CommittedUnits, type LeveredLine, type NetProjection, netOfCommitments } from "./committed";
export {
  addProjections,
  type HoursLever,
  type HoursProjection,
  type Projected,
  projectHours,
  type Run,
  type Window,
} from "./hours-lever";
export { type LevelStretch, levelByHour } from "./level-by-hour";
