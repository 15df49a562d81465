export { setBasis } from "./basis-days";
export {
  type CalendarSummary,
  type Country,
  calendarSummaries,
  holidaysOfCountry,
  holidaysOfIcs,
  type OpenCalendar,
  openCalendar,
  previewCalendar,
  removeCalendar,
  type StoredCalendar,
  saveCalendar,
} from "./calendars";
export {
  createFleet,
  type FleetSummary,
  fleetSummaries,
  keepDraft,
  openWorkbench,
  type PlanVersion,
  storedDraft,
} from "./fleets";
export { loadPlan } from "./load-plan";
export {
  bringBackFleet,
  type ChangeOfHands,
  changeFleets,
  copyFleet,
  type FleetsChange,
  type FleetsImpact,
  previewFleets,
  renameFleet,
} from "./manage-fleets";
export { exportPlan, importPlan, type PlanImport, previewPlan } from "./plan-file";
export { type ForcePreview, type PreviewChange, previewInForce, putInForce } from "./put-in-force";
export { removeSchedule, type ScheduleSummary, type Schedules, scheduleIcs, scheduleSummaries } from "./schedules";
