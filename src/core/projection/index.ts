export { decodeLines, type EncodedLines, encodeLines, rateCardCodec } from "./codec";
export { type CoverableUse, coverOfMonths, type SpareCover } from "./cover";
export type { HoursFollowed } from "./hours-use";
export { type IdleLever, type PeopleUse, type Percentile, type Spread, savedPerSecond } from "./idle-lever";
export { type LevelStretch, levelByHour } from "./level-by-hour";
export {
  type Baselines,
  baselinesOf,
  type Figure,
  type Lever,
  type LeverKind,
  monthlyOf,
  type Projection,
  type ProjectionInput,
  projectLevers,
  type Saving,
  type Step,
  stepsFrom,
} from "./levers";
export { type BasisDays, basisDays, type Line, type Ran, type Run, type Window } from "./line";
export type { MixLever } from "./mix-lever";
export { type Month, monthsFrom, weekdaySeconds } from "./months";
export { leversOf, sizedLines } from "./plan-levers";
export { ranOf } from "./ran";
export {
  type ProjectedResource,
  projectedInventorySchema,
  projectSpan,
  type SpanFleet,
  type SpanPrice,
  type SpanResult,
  spanPricesSchema,
} from "./span";
