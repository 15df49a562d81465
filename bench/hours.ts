import OpeningHours from "opening_hours";
import rrule from "rrule";
import { type CompiledSchedule, compileSchedule, expand, printLine, scheduleSchema } from "@/core/hours";
import { DAY_S, formatDate } from "@/core/time";
import { medianMs, report } from "./measure";

const { RRule } = rrule;
const FROM = Date.UTC(2027, 0, 1) / 1000;
const YEAR_S = 365 * DAY_S;
const SCHEDULE = scheduleSchema.parse({
  name: "office",
  zone: "Europe/Oslo",
  rows: [{ day: "workdays", spans: ["07:30-18:00"] }],
});

/** Both ends of every working day of a year, by rules of RFC 5545 with the same zone. */
function byRules(): number {
  const at = (hour: number, minute: number) =>
    new RRule(
      {
        freq: RRule.WEEKLY,
        byweekday: [RRule.MO, RRule.TU, RRule.WE, RRule.TH, RRule.FR],
        dtstart: new Date(Date.UTC(2027, 0, 1, hour, minute)),
        tzid: "Europe/Oslo",
      },
      true,
    ).between(new Date(FROM * 1000), new Date((FROM + YEAR_S) * 1000));
  return at(7, 30).length + at(18, 0).length;
}

/** `expand` of one schedule over a year, from its compiling on, beside the rrule package. */
export function benchHours(): void {
  const ours = () => expand(compileSchedule(SCHEDULE), FROM, FROM + YEAR_S).filter(({ from }) => from > FROM).length;
  if (ours() !== byRules()) throw new Error(`not the same edges: ${ours()} and ${byRules()}`);
  const oursMs = medianMs(ours, 501);
  const rulesMs = medianMs(byRules, 15);
  const ratio = rulesMs / oursMs;
  report({
    name: "expand of one schedule over a year",
    figure: `${ratio.toFixed(0)} times faster, ${oursMs.toFixed(3)} ms`,
    target: "at least 20 times",
    isMet: ratio >= 20,
    yardstick: `rrule on the same pattern and zone, ${rulesMs.toFixed(2)} ms`,
  });
}

/** A country of the package's own list, so that both sides know the same holidays. */
const PLACE = { address: { country_code: "no", state: "" } } as never;

/** The open intervals of a line over the year by the package that reads the open notation. It knows no zones: on the wall clock. */
function byLine(line: string): number {
  return new OpeningHours(line, PLACE).getOpenIntervals(new Date(FROM * 1000), new Date((FROM + YEAR_S) * 1000)).length;
}

/** The same beside opening_hours, on workdays with a country's holidays, which is how the line of `workdays` is written. */
export function benchLines(): void {
  const holidays = new OpeningHours("PH 00:00-24:00", PLACE)
    .getOpenIntervals(new Date(FROM * 1000), new Date((FROM + YEAR_S) * 1000))
    .flatMap(([from, to]) => {
      const days = Math.round((to.getTime() - from.getTime()) / 1000 / DAY_S);
      return Array.from({ length: days }, (_, i) => formatDate(Math.floor(from.getTime() / 1000 / DAY_S) + i));
    });
  const calendar = { name: "no", rest: ["sat", "sun"] as const, holidays };
  const schedule = { ...SCHEDULE, zone: "UTC" };
  const printed = printLine(schedule, calendar);
  if (!printed.ok) throw new Error(`no line: ${printed.why}`);
  const ours = () => expand(compileSchedule(schedule, calendar), FROM, FROM + YEAR_S).filter(({ level }) => level === 1).length;
  if (ours() !== byLine(printed.line)) throw new Error(`not the same: ${ours()} and ${byLine(printed.line)}`);
  const oursMs = medianMs(ours, 501);
  const linesMs = medianMs(() => byLine(printed.line), 15);
  const bareMs = medianMs(() => byLine("Mo-Fr 07:30-18:00"), 15);
  report({
    name: "expand of workdays and holidays over a year",
    figure: `${(linesMs / oursMs).toFixed(0)} times faster, ${oursMs.toFixed(3)} ms`,
    target: "at least 50 times",
    isMet: linesMs / oursMs >= 50,
    yardstick: `opening_hours on "${printed.line}", ${linesMs.toFixed(1)} ms; on weekdays alone it takes ${bareMs.toFixed(1)} ms`,
  });
}

const SCHEDULES = 1000;
const ZONES = ["Europe/Oslo", "America/Santiago", "Pacific/Auckland", "Asia/Kathmandu", "Australia/Lord_Howe"];

/** A thousand different schedules, none of them seen before. */
function manySchedules(): CompiledSchedule[] {
  return Array.from({ length: SCHEDULES }, (_, i) => {
    const hour = String(6 + (i % 4)).padStart(2, "0");
    const minute = String((i * 7) % 60).padStart(2, "0");
    const rows = [
      { day: "workdays", spans: [`${hour}:${minute}-18:00`] },
      { day: "fri", spans: [`${hour}:${minute}-15:30`] },
      { day: ["tue", "thu"], spans: [`${hour}:${minute}-18:00`, "19:00-02:30 x3"] },
      { day: "2027-04-01..2027-04-05", off: true },
    ];
    const schedule = scheduleSchema.parse({ name: `s${i}`, zone: ZONES[i % ZONES.length], rows });
    return compileSchedule(schedule);
  });
}

export function benchSchedules(yardstick: number): void {
  const ms = medianMs(() => manySchedules().reduce((sum, schedule) => sum + expand(schedule, FROM, FROM + YEAR_S).length, 0), 5);
  report({
    name: "expand of 1,000 schedules over a year, from their text on",
    figure: `${ms.toFixed(0)} ms, ${(ms / yardstick).toFixed(1)} yardsticks`,
    target: "at most 1000 ms",
    isMet: ms <= 1000,
    yardstick: `sorting a million numbers, ${yardstick.toFixed(0)} ms`,
  });
}
