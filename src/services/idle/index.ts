export { type IdleFacts, idleChanges, idleFacts, metricsWatched } from "./evaluate-alarms";
export { followLeaveOn, type LeaveOnView, leaveOnLink, viewLeaveOn } from "./leave-on";
export { addressOf, type OwnersMail, ownersMail, ownersMailOf, setOwnersMail } from "./owners";
export { type PauseRequest, pauseAlarms, resumeAlarms } from "./pauses";
export { fleetSamples, knownMetrics, machineSamples, type SamplesQuery, samplesOver, TRIED_DAYS } from "./samples";
export { type AlarmChangeLine, type AlarmLine, type AlarmsView, alarmsOf } from "./view";
