export { type HoursAsTarget, hoursTarget } from "./hours";
export { type Target, type TargetSource, type TargetSpan, unitsAt, unitsBySlot, unitsOf } from "./target";
