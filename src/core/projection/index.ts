export { decodeLines, type EncodedLines, encodeLines, rateCardCodec } from "./codec";
export { type CoverableUse, coverOfMonths, type SpareCover, type SpareStretch } from "./cover";
export type { HoursFollowed } from "./hours-use";
export { afterIdle, type IdleLever, type PeopleUse, type Percentile, type Spread, savedPerSecond } from "./idle-lever";
export { type LevelStretch, levelByHour } from "./level-by-hour";
export {
  afterHours,
  type Baselines,
  baselinesOf,
  type Figure,
  type HoursLever,
  type Laid,
  LEVER_KINDS,
  type LeverKind,
  monthlyOf,
  type Projection,
  type ProjectionInput,
  type Saving,
  type Step,
  stepsFrom,
} from "./levers";
export { type BasisDays, basisDays, type Line, type Ran, type Run, type Window } from "./line";
export { afterMix, type MixLever, type MixSaving } from "./mix-lever";
export { type Month, monthsFrom, weekdaySeconds } from "./months";
export { hoursLeverOf, sizedLines } from "./plan-levers";
export { ranOf } from "./ran";
