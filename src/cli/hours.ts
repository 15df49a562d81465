import {
  type CompiledSchedule,
  compileSchedule,
  expand,
  explain,
  HOURS_OFF,
  nextEdges,
  readLine,
  suggestLine,
} from "@/core/hours";
import { scheduleToIcs } from "@/core/ics";
import { formatInstant, isZone, tryParseDate } from "@/core/time";
import { readSchedule } from "./files";
import { instantFlag, readFlags, spanFlags, wholeFlag } from "./flags";
import { noAnswer, wrongUse } from "./problem";
import { Text } from "./text";

/** `hours expand --plan F --schedule N --from T --to T [--zone Z]` */
export function hoursExpand(args: readonly string[]): unknown {
  const flags = readFlags(args, { plan: "required", schedule: "required", from: "required", to: "required", zone: "optional" });
  const { from, to } = spanFlags(flags);
  return { schedule: flags.schedule, intervals: intervalsOf(readSchedule(flags.plan, flags.schedule, flags.zone), { from, to }) };
}

function intervalsOf(compiled: CompiledSchedule, { from, to }: { from: number; to: number }) {
  return expand(compiled, from, to).map((interval) => ({
    ...interval,
    from: formatInstant(interval.from),
    to: formatInstant(interval.to),
  }));
}

/** `hours line TEXT --zone Z --from T --to T [--holidays D,D]` */
export function hoursLine([text, ...args]: readonly string[]): unknown {
  if (text === undefined || text.startsWith("--")) wrongUse("an hours line is missing: it comes before the flags");
  const flags = readFlags(args, { zone: "required", from: "required", to: "required", holidays: "optional" });
  const span = spanFlags(flags);
  if (!isZone(flags.zone)) wrongUse(`--zone "${flags.zone}" is not a time zone: expected a name such as Europe/Oslo`);
  const holidays = (flags.holidays ?? "").split(",").filter((date) => date !== "");
  const wrong = holidays.find((date) => tryParseDate(date) === null);
  if (wrong !== undefined) wrongUse(`--holidays "${wrong}" is not a date: expected YYYY-MM-DD`);
  const line = readLine(text);
  if (!line.ok) {
    const near = suggestLine(text);
    return noAnswer(`character ${line.error.at + 1}: ${line.error.message}${near ? `; the nearest line is "${near}"` : ""}`);
  }
  const schedule = { name: text, zone: flags.zone, outside: HOURS_OFF, rows: line.rows };
  const compiled = compileSchedule(schedule, { name: "line", rest: ["sat", "sun"], holidays }, "last");
  return { schedule: text, intervals: intervalsOf(compiled, span) };
}

const ICS_YEARS = 10;

/** `hours ics --plan F --schedule N [--zone Z] [--from T --to T]`: the calendar text; from this year on where no span is given. */
export function hoursIcs(args: readonly string[]): Text {
  const flags = readFlags(args, { plan: "required", schedule: "required", from: "optional", to: "optional", zone: "optional" });
  if ((flags.from === undefined) !== (flags.to === undefined)) wrongUse("--from and --to go together");
  const stamp = Math.floor(Date.now() / 1000);
  const year = new Date().getUTCFullYear();
  const january = (of: number) => Date.UTC(of, 0, 1) / 1000;
  const span =
    flags.from !== undefined && flags.to !== undefined
      ? spanFlags({ from: flags.from, to: flags.to })
      : { from: january(year - 1), to: january(year + ICS_YEARS) };
  return new Text(scheduleToIcs(readSchedule(flags.plan, flags.schedule, flags.zone), { ...span, stamp }));
}

/** `hours next --plan F --schedule N --at T --count K [--zone Z]` */
export function hoursNext(args: readonly string[]): unknown {
  const flags = readFlags(args, { plan: "required", schedule: "required", at: "required", count: "required", zone: "optional" });
  const at = instantFlag("at", flags.at);
  const count = wholeFlag("count", flags.count, 1);
  return {
    edges: nextEdges(readSchedule(flags.plan, flags.schedule, flags.zone), { t: at, count }).map((edge) => ({
      ...edge,
      at: formatInstant(edge.at),
    })),
  };
}

/** `hours explain --plan F --schedule N --at T [--zone Z]` */
export function hoursExplain(args: readonly string[]): unknown {
  const flags = readFlags(args, { plan: "required", schedule: "required", at: "required", zone: "optional" });
  return explain(readSchedule(flags.plan, flags.schedule, flags.zone), instantFlag("at", flags.at));
}
