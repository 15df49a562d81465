export { columnIn, packSamples, type Samples, type SamplesHead, slotsIn, slotsWithoutTrips, unpackSamples } from "./columns";
export { hoursOver } from "./hours-over";
export { type LateWarning, lateWarnings, lateWords } from "./late";
export {
  ALARM_STATES,
  type Alarm,
  type AlarmSamples,
  type AlarmState,
  type Evaluating,
  evaluate,
  WAIT_MAX_S,
  waitOf,
  windowSamples,
} from "./live";
export type { HoursOver } from "./machine";
export { tryMicrosOfText } from "./micros";
export { type Envelope, type EnvelopeAsked, envelopeOf } from "./picture";
export { type AlarmReason, alarmReasonWords } from "./reason";
export { metricsRead, type Replayed, replay, type Sums, type Trip } from "./replay";
export {
  type Condition,
  type IdleRule,
  idleRuleSchema,
  isMultiple,
  metricsOf,
  ruleKey,
  ruleWords,
} from "./rule";
export { type Column, columnOf, type Sample, type Slots, slotEnd, slotsOf } from "./slots";
export { type Choices, type Point, type Replayable, type Sweep, suggested, sweepOf } from "./sweep";

export { type Usual, unlikeUsual } from "./unlike";
export { type Percentiles, spreadOver, type WeeklyWorth, weekEdges, weeklyWorth } from "./worth";
export { cutByHabit, HABIT_WEEKS, type TripSpan, withoutTrips } from "./would-be";
