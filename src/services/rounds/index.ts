export { askForRound, type Job } from "./ask-for-round";
export { moveClock, readClock } from "./demo-clock";
export { type Holds, holdList, placeHold, releaseHold, type StoredHold } from "./holds";
export { changedWorld, type Follower, firstRoundOf, followersBySchedule, type Impact, impactOf } from "./impact";
export {
  type ComingEdge,
  comingEdges,
  type Journal,
  type JournalEntry,
  journalPage,
  type OpenRound,
  openRound,
  type Round,
  type StoredDecision,
} from "./journal";
export { isRoundDue, runRound, runRoundWhenFree } from "./run-round";
export { stopByHand } from "./stop-by-hand";
