import {
  type Calendar,
  type CompiledSchedule,
  compileSchedule,
  type Schedule,
  scheduleSchema,
  scheduleToFile,
} from "@/core/hours";
import { changedKeys, type FleetDraft, type FleetPlan, planToDraft, type ScheduleDraft, tryDraftToPlan } from "@/core/plan";

import { DRAFT_PARTS } from "./draft-parts";

/** The schedule a draft goes by, as text: its own changed one, or the stored one it names. */
export function scheduleOf(draft: FleetDraft, schedules: readonly Schedule[]): ScheduleDraft | null {
  if (draft.schedule) return draft.schedule;
  const stored = schedules.find(({ name }) => name === draft.hours);
  return stored ? (scheduleToFile(stored) as ScheduleDraft) : null;
}

/** A draft with its schedule changed. Until it is put in force the stored one stays as it is. */
export function withSchedule(draft: FleetDraft, schedule: ScheduleDraft): FleetDraft {
  return { ...draft, hours: schedule.name, schedule };
}

export type CheckedSchedule = Readonly<{ compiled: CompiledSchedule | null; issues: ReadonlyMap<string, string> }>;

/** Checks a schedule's text; issues by the path of their field, such as `rows.0.spans.1`. */
export function checkSchedule(text: ScheduleDraft, calendars: readonly Calendar[]): CheckedSchedule {
  const result = scheduleSchema.safeParse(text);
  if (!result.success)
    return { compiled: null, issues: new Map(result.error.issues.map(({ path, message }) => [path.join("."), message])) };
  const { calendar } = result.data;
  const known = calendars.find(({ name }) => name === calendar);
  if (calendar !== undefined && !known)
    return { compiled: null, issues: new Map([["calendar", `no calendar is named "${calendar}"`]]) };
  return { compiled: compileSchedule(result.data, known), issues: new Map() };
}

/** Every schedule that can be followed, by name: the stored ones, and over them the one being edited. */
export function knownSchedules(
  schedules: readonly Schedule[],
  calendars: readonly Calendar[],
  own: CompiledSchedule | null,
): Map<string, CompiledSchedule> {
  const known = new Map<string, CompiledSchedule>();
  for (const schedule of schedules) {
    const calendar = calendars.find(({ name }) => name === schedule.calendar);
    if (schedule.calendar === undefined || calendar) known.set(schedule.name, compileSchedule(schedule, calendar));
  }
  if (own) known.set(own.schedule.name, own);
  return known;
}

/** The draft as a plan for deciding; null while it does not read as one. */
export function planOf(draft: FleetDraft): FleetPlan | null {
  const result = tryDraftToPlan(draft);
  return result.success ? result.data : null;
}

/** What differs from the plan in force, in words; empty where nothing does. */
export function differences(draft: FleetDraft, inForce: FleetPlan | null): string[] {
  const keys = changedKeys(draft, inForce);
  if (!inForce || !keys) return ["nothing is in force yet"];
  const before = planToDraft(inForce);
  return keys.map((key) => {
    if (key === "schedule") return `the week of ${draft.schedule?.name} is changed`;
    const { label, words } = DRAFT_PARTS[key];
    return `${label.charAt(0).toLowerCase()}${label.slice(1)}: ${words(before)} → ${words(draft)}`;
  });
}
