export {
  actionToward,
  type NoHibernation,
  OUTCOMES,
  type Outcome,
  VERBS,
  type Verb,
  type Wanted,
  whyNoHibernation,
} from "./action";
export { earlyUntil } from "./blocks";
export { isTooManyUnforeseen, type Limits, NO_LIMITS } from "./brake";
export { claimer, claimerAbove, type Ranked } from "./claim";
export { type Decision, decide, deciding, type OpenAction, type RoundInput, type Verdict } from "./decide";
export { type Doubt, doubtOf, isConfirmed, isSame, type Lack, lackOf, type StandingDoubt } from "./doubt";
export { type Due, dueAt, type HoursFor, type HoursNow, type HoursSource, hoursAt } from "./due";
export { type DueEdge, type Following, nextDueEdges } from "./due-edges";
export { type DueSpan, dueOver } from "./due-over";
export { dueReader } from "./due-reader";
export { isTooOld, ROUND_EVERY_S } from "./every";
export { type FellInput, fellReader } from "./fell";
export { decideFirstRound, type FirstRoundInput } from "./first-round";
export { type HoursObserved, STOOD_S } from "./foreseen";
export { type HeldStop, type HeldStops, heldAfter } from "./held";
export { type HoursFinder, type HoursOf, hoursFinder, zoneOf } from "./hours-of";
export { type AheadSpan, lifeAhead } from "./life-ahead";
export { listedOverrides } from "./listed-override";
export { type Lowered, loweredBelow } from "./lowered";
export { mixAhead } from "./mix-ahead";
export { type MemberUnits, type MixedDecisions, mixedDecisions, mixedGroupsIn, withMembers } from "./mixed";
export {
  byRule,
  decidingAt,
  goesBeforeStarts,
  kindOfRule,
  levelUnder,
  newestAt,
  OVERRIDE_KINDS,
  OVERRIDE_ORDER,
  OVERRIDES,
  type Override,
  type OverrideCause,
  type OverrideKind,
  type RuleName,
} from "./override";
export {
  afterChanges,
  isChange,
  type NewOverride,
  NO_OVERRIDE_CHANGES,
  newOverride,
  type OverrideChanges,
} from "./override-changes";
export { byWords, endWords, levelWord, listedWords, overriddenSign, overriddenWords } from "./override-words";
export { overridesOn } from "./overrides-on";
export { highestLevel, ownSizeOf } from "./own-size";
export { atPlace, placesByName } from "./pool-place";
export { type ClosedReason, decidingReason, type Reason, type RuleRead, type RuleReason } from "./reason";
export { chainWords, closedWords, lackWords, noHibernationWords, reasonWords, whyWords } from "./reason-words";
export { type Asked, type Cause, type Change, mayHaveCaused, type Run, runsOf } from "./runs";
export { withPlaces } from "./with-places";
