import {
  type Calendar,
  type CompiledSchedule,
  compileSchedule,
  type Schedule,
  scheduleSchema,
  scheduleToFile,
} from "@/core/hours";
import { type IdleRule, ruleWords } from "@/core/idle";
import { type FleetDraft, type FleetPlan, pooledWords, type RowDraft, type ScheduleDraft, tryDraftToPlan } from "@/core/plan";

import { isSameJson } from "../kit/same";
import { mixWords, unhealthyWords } from "../mix/words";

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
  if (!inForce) return ["nothing is in force yet"];
  const said: string[] = [];
  const compare = (name: string, before: unknown, after: unknown) => {
    if (JSON.stringify(before ?? null) !== JSON.stringify(after ?? null)) said.push(`${name}: ${word(before)} → ${word(after)}`);
  };
  compare("who", inForce.select, draft.select);
  compare("hours", inForce.hours, draft.hours);
  compare("lead", `${inForce.lead} min`, `${draft.lead} min`);
  compare("off means", inForce.offAction, draft.offAction);
  compare("starts", inForce.starts, draft.starts);
  compare("enforce", inForce.enforce, draft.enforce);
  compare("a person's start is kept", `${inForce.grace} min`, `${draft.grace} min`);
  compare("own size", inForce.size, draft.size);
  if (inForce.pooled || draft.pooled) compare("its people", pooledWords(inForce.pooled), pooledWords(draft.pooled));
  if (!isSameJson(inForce.mix, draft.mix)) {
    const [before, after] = [mixWords(inForce.mix), mixWords(draft.mix)];
    said.push(before === after ? "mix: its settings are changed" : `mix: ${before} → ${after}`);
  }
  compare("unhealthy members", unhealthyWords(inForce.unhealthy), unhealthyWords(draft.unhealthy));
  compare("idle rules", rulesWords(inForce.idle), rulesWords(draft.idle));
  if (draft.schedule) said.push(`the week of ${draft.schedule.name} is changed`);
  return said;
}

/** Rules in words, with all that they say: a change of any part of one is a difference. */
function rulesWords(rules: readonly IdleRule[] | undefined): string | undefined {
  if (!rules || rules.length === 0) return undefined;
  return rules
    .map((rule) => {
      const { warn, settle, coverage, action, applies, interruptionWithin, startMinutes } = rule;
      return `${ruleWords(rule)}, warned ${warn} min, ${action}, ${applies}, coverage ${coverage}, settled ${settle} min, ${interruptionWithin} and ${startMinutes} min`;
    })
    .join("; ");
}

function word(value: unknown): string {
  if (value === undefined || value === null) return "none";
  if (typeof value === "number") return String(value);
  return typeof value === "string" ? value : `from tag ${(value as { fromTag: string }).fromTag}`;
}

/** A row's spans as one line of text, and back. */
export function rowText(row: RowDraft): string {
  return row.spans?.join(", ") ?? "";
}

export function rowFromText(row: RowDraft, text: string): RowDraft {
  const { spans: _, off: __, ...rest } = row;
  const spans = text.split(/\s*,\s*/).filter((span) => span !== "");
  return spans.length === 0 ? { ...rest, off: true } : { ...rest, spans };
}
