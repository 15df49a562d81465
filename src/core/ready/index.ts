export { type Choice, type ChoiceReason, type Choosing, type Chosen, chooseReady, type PoolMachine } from "./choose";
export {
  forecastPool,
  type LaidPool,
  layPool,
  type PoolForecast,
  type PoolHistory,
  type PoolTerms,
  peopleOver,
  type TriedSpare,
} from "./forecast";
export { isInUse, type Sessions, sessionsOf, withEvent } from "./in-use";
export { LIKELY_STEP_S, type LikelyTerms, likelyUnits, type PoolUse, poolUse, wholeUnits } from "./likely";
export { addInUse, byTheMinute, likelyInUse } from "./past";

export { type PoolPast, type PoolSlots, type PoolWeek, replayPool, suggestedSpare } from "./replay";
export { tightDays } from "./tight";
