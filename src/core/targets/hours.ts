import { asLevel, type CompiledSchedule, expandWithLead, nextEdges } from "../hours";
import { MINUTE_S } from "../time";
import type { Target } from "./target";

/** How hours are taken as a target: minutes of lead, and how many `on` is. */
export type HoursAsTarget = Readonly<{ leadMinutes: number; all: number }>;

/** What hours say as a target: they want a number, and set no bounds. */
export function hoursTarget(hours: CompiledSchedule, { leadMinutes, all }: HoursAsTarget): Target {
  const leadS = leadMinutes * MINUTE_S;
  const ownSize = asLevel(all);
  return {
    source: "hours",
    zone: hours.schedule.zone,
    over: ({ from, to }) =>
      expandWithLead(hours, { from, to, leadS, ownSize }).map((span) => ({
        from: span.from,
        to: span.to,
        floor: null,
        wanted: span.level,
        ceiling: null,
      })),
    changeAfter: (t) => nextEdges(hours, { t, count: 1, leadS, ownSize })[0]?.at ?? null,
  };
}
