import { type CompiledSchedule, expandWithLead, holidayDates } from "@/core/hours";
import { OVERRIDES } from "@/core/rounds";
import { DAY_S, dayNumber, type Instant, MINUTE_S, resolveLocal } from "@/core/time";
import type { StoredCalendar, StoredOverride } from "@/store";
import { claimsOf, type Snapshot } from "../../inventory";

/** Something marked on the strip, `[from, to)`. */
export type Mark = Readonly<{ kind: "hold" | "holiday"; from: Instant; to: Instant; what: string }>;

type Window = Readonly<{ from: Instant; to: Instant }>;

export function holdMarks(holds: readonly StoredOverride[], window: Window): Mark[] {
  return (
    holds
      // What an idle alarm turned off, or a pool has chosen, is on its own page: there may be hundreds.
      .filter(({ from, to, kind }) => OVERRIDES[kind].isMarked && from < window.to && to > window.from)
      .map(({ from, to, name, level, reason }) => ({
        kind: "hold",
        from: Math.max(from, window.from),
        to: Math.min(to, window.to),
        what: `${name} held ${level === 0 ? "off" : "on"}: ${reason}`,
      }))
  );
}

/** The holidays of the calendars that hours in force go by, each the whole local day in the zone of those hours. */
export function holidayMarks(snapshot: Snapshot, calendars: readonly StoredCalendar[], window: Window): Mark[] {
  const marks = new Map<string, Mark>();
  for (const { compiled } of hoursInForce(snapshot)) {
    const { zone, calendar: name } = compiled.schedule;
    const calendar = snapshot.calendars.find((one) => one.name === name);
    if (!calendar) continue;
    const names = calendars.find((stored) => stored.calendar.name === name)?.dayNames ?? {};
    for (const date of holidayDates(calendar.holidays)) {
      const day = dayNumber(date);
      if ((day + 2) * DAY_S < window.from || (day - 1) * DAY_S > window.to) continue;
      const from = Math.max(window.from, resolveLocal(zone, day, 0));
      const to = Math.min(window.to, resolveLocal(zone, day + 1, 0));
      if (from >= to) continue;
      const what = [names[date] ?? "holiday", `in ${calendar.name}`].join(" ");
      marks.set(`${name} ${zone} ${date}`, { kind: "holiday", from, to, what });
    }
  }
  return [...marks.values()];
}

const SEARCH_S = 14 * DAY_S;

/** The edge of any hours in force next before and next after an instant, within a fortnight; null where there is none. */
export function edgesAround(snapshot: Snapshot, at: Instant): Readonly<{ previous: Instant | null; next: Instant | null }> {
  let previous: Instant | null = null;
  let next: Instant | null = null;
  for (const { compiled, leadS } of hoursInForce(snapshot)) {
    const stretches = expandWithLead(compiled, { from: at - SEARCH_S, to: at + SEARCH_S + 1, leadS });
    for (const { from } of stretches.slice(1)) {
      if (from < at && (previous === null || from > previous)) previous = from;
      if (from > at && from <= at + SEARCH_S && (next === null || from < next)) next = from;
    }
  }
  return { previous, next };
}

/** Every schedule that some machine follows, once for each lead. */
function hoursInForce(snapshot: Snapshot): readonly Readonly<{ compiled: CompiledSchedule; leadS: number }>[] {
  const found = new Map<string, { compiled: CompiledSchedule; leadS: number }>();
  for (const claim of new Set(claimsOf(snapshot))) {
    if (claim?.hours.kind !== "schedule") continue;
    const { compiled } = claim.hours;
    const leadS = claim.plan.lead * MINUTE_S;
    found.set(`${compiled.schedule.name} ${compiled.schedule.zone} ${leadS}`, { compiled, leadS });
  }
  return [...found.values()];
}
