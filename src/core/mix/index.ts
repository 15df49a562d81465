export { expectedEvents, trialSeconds } from "./effort";
export { type Fan, fanLine } from "./fan";
export {
  type Choices,
  choicesFor,
  choicesOf,
  chosenPoint,
  everyChoice,
  type FrontierPoint,
  type MixChoice,
  onFrontier,
  withChoice,
} from "./frontier";
export { HEALTH_METRIC, ILL_S, illSince, REPLACED_A_DAY, type UnhealthyCare, whyNotReplaced } from "./health";
export {
  gapsToKeep,
  type Keeping,
  type KeepStep,
  type MixGap,
  type MixMachine,
  type MixPool,
  nextStep,
  type Part,
} from "./keep";
export { meanHours, meanRate, meanShare } from "./known";
export { type Mix, mixSchema, mostWanted, type Order, orderHazard, type Pool } from "./mix";
export { asObserved, asSaid, type PoolObserved, poolReader, wavesAndSpells } from "./observed";
export { type Figure, meanOf, type Outcomes } from "./outcomes";
export { poolPlace } from "./pool-name";
export { countsSchema, posterior, type Rate } from "./posterior";
export {
  daysSeen,
  type SeenPrices,
  weeksOf,
  weeksSeen,
  withNextDay,
  withPricesAgain,
  withPricesAhead,
} from "./prices-ahead";
export { provisionMinutes } from "./provision";
export { type Rehearsed, rehearseMix } from "./rehearse";
export { type SizeSeen, type SpotPast, sizesSeen } from "./seen";
export {
  joinStretches,
  type MixFigures,
  mixFigures,
  type Stretch,
  type StretchResult,
  simulateStretch,
  TRIALS_MAX,
} from "./simulate";
export { type StepCause, type StepReason, stepReasonWords } from "./step-reason";
export { overTarget } from "./steps";
export { unitsOfMember } from "./units";
export { type MixWarning, mixWarnings, type PoolNow } from "./warnings";
