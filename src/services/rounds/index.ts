export { approveStops, confirmStops, declineStops, type StopsApproved } from "./approve-stops";
export { askForRound, type Job } from "./ask-for-round";
export { type Attention, attention, believeListing } from "./attention";
export { type ComingEdge, comingEdges } from "./coming";
export { moveClock, readClock, waitForRounds } from "./demo-clock";
export { type Holds, holdList, moveHoldEnd, placeHold, releaseHold, type StoredOverride, stoppedByHold } from "./holds";
export { changedSnapshot, type Follower, firstRoundOf, followersBySchedule, type Impact, impactOf } from "./impact";
export {
  type DecisionGroup,
  type Journal,
  type JournalEntry,
  journalPage,
  type OpenRound,
  openRound,
  type Round,
  type StoredDecision,
} from "./journal";
export { type Pause, pauseRounds, pauses, resumeRounds } from "./pauses";
export { queueRound } from "./queue-round";
export { runDueRound, runRound, runRoundWhenFree } from "./run-round";
export { type ActionLine, actionsSince, type JournalQuery, journalCsv, searchJournal } from "./search";
export { stopByHand } from "./stop-by-hand";
export { setStopLimit, stopLimitOf } from "./stop-limit";
