export { followLeaveOn, type LeaveOnView, leaveOnLink, viewLeaveOn } from "./leave-on";
export { addressOf, type OwnersMail, ownersMail, ownersMailOf, setOwnersMail } from "./owners";
export { type PauseRequest, pauseAlarms, resumeAlarms } from "./pauses";
export { metricsWatched, watchIdle } from "./watch-idle";
