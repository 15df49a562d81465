import { DAY_MINUTES, dayNumber, formatDate, WEEKDAYS, type Weekday, weekdayIndex } from "../../time";
import { type CompiledSchedule, compileSchedule, rowsByKindOfDay } from "../compile";
import { HOURS_OFF, ON } from "../level";
import { tidySpans } from "../paint";
import { type Calendar, type DayKey, dayKeyLabel, PLAIN_CALENDAR, type Row, type Schedule } from "../schedule";
import { formatMinute, runsPastMidnight, type Span } from "../span";
import { dayKeyToLine } from "./days";
import { type OpenRule, openDay } from "./open-notation";
import { readLine } from "./read";

/** A schedule as one line; or the row (its place; null for what holds outside the rows) that no line can say, and why. */
export type PrintResult =
  | Readonly<{ ok: true; line: string }>
  | Readonly<{ ok: false; row: number | null; label: string; why: string }>;

/** What a row puts on its day: tidy spans above 0, or nothing. */
type Content = Readonly<{ row: number; spans: readonly Span[]; text: string }>;
type Rule = Readonly<{ days: DayKey; content: Content }>;

/**
 * Prints a schedule's rows as an hours line: general before particular, levels as comments, several
 * levels of a day as additional rules. What it prints is proved to mean the same under the open
 * notation on every kind of day; what cannot is refused with the row that is the reason.
 */
export function printLine(schedule: Schedule, calendar: Calendar = PLAIN_CALENDAR): PrintResult {
  if (schedule.outside !== 0) {
    const said = schedule.outside === null ? "is left as it is" : `has level ${schedule.outside}`;
    return { ok: false, row: null, label: "outside", why: `what is outside the rows ${said}, and in a line it is always off` };
  }
  const contents = schedule.rows.map(contentOf);
  const undated = undatedRules(schedule, { calendar, contents });
  if (!Array.isArray(undated)) return undated as PrintResult;
  const dated = schedule.rows.flatMap(({ day }, row): Rule[] =>
    day.kind === "dates" ? [{ days: day, content: contents[row] as Content }] : [],
  );
  const rules = [...undated, ...dated];
  const line = rules.map(ruleText).join("; ") || "off";
  return firstDifference(schedule, { calendar, rules, line }) ?? { ok: true, line };
}

function contentOf({ spans }: Row, row: number): Content {
  const tidy = spans === "off" ? [] : tidySpans(spans, HOURS_OFF);
  return { row, spans: tidy, text: JSON.stringify(tidy) };
}

const NOTHING: Content = { row: -1, spans: [], text: "[]" };

/** Weekdays, then PH, then the weekdays that count on holidays too where others do not. */
function undatedRules(
  { rows }: Schedule,
  { calendar, contents }: { calendar: Calendar; contents: readonly Content[] },
): Rule[] | PrintResult {
  const kinds = rowsByKindOfDay(rows, calendar);
  const plain = kinds.onPlainDay.map((row) => contents[row] ?? NOTHING);
  const holiday = kinds.onHoliday.map((row) => contents[row] ?? NOTHING);
  const differing = WEEKDAYS.map((_, i) => i).filter((i) => plain[i]?.text !== holiday[i]?.text);
  const own = differing.length > 0 ? (holiday[differing[0] as number] as Content) : null;
  const other = differing.map((i) => holiday[i] as Content).find(({ text }) => text !== own?.text);
  if (other) {
    const label = dayKeyLabel((rows[other.row] ?? (rows[own?.row ?? 0] as Row)).day);
    return { ok: false, row: other.row, label, why: "on holidays it says something else than another row does" };
  }
  const isLate = (i: number) => own !== null && plain[i]?.text === holiday[i]?.text && plain[i]?.text !== own.text;
  const group = (test: (i: number) => boolean): Rule[] => {
    const groups = new Map<string, { content: Content; days: Weekday[] }>();
    plain.forEach((content, i) => {
      if (!test(i)) return;
      const known = groups.get(content.text) ?? { content, days: [] };
      known.days.push(WEEKDAYS[i] as Weekday);
      groups.set(content.text, known);
    });
    const rules = [...groups.values()].map(({ content, days }): Rule => ({ days: { kind: "weekdays", days }, content }));
    return [
      ...rules.filter(({ content }) => !runsPastMidnight(content.spans)),
      ...rules.filter(({ content }) => runsPastMidnight(content.spans)).reverse(),
    ];
  };
  const early = group((i) => !isLate(i) && plain[i]?.text !== NOTHING.text);
  const whole = early[0];
  const isEveryDay = early.length === 1 && own === null && whole?.days.kind === "weekdays" && whole.days.days.length === 7;
  // Without days a second level would read as a further time of the first.
  if (whole && isEveryDay && levelsOf(whole.content).length === 1)
    return [{ days: { kind: "class", name: "daily" }, content: whole.content }];
  const onHolidays: Rule[] = own === null ? [] : [{ days: { kind: "class", name: "holidays" }, content: own }];
  return [...early, ...onHolidays, ...group(isLate)];
}

/** One rule for each level, the first with `; `, the others additional. */
function levelsOf({ spans }: Content): readonly (readonly Span[])[] {
  const byLevel = new Map<number, Span[]>();
  for (const span of spans) byLevel.set(span.level, [...(byLevel.get(span.level) ?? []), span]);
  return [...byLevel.values()];
}

function ruleText({ days, content }: Rule): string {
  const day = dayKeyToLine(days);
  const said = (body: string) => (day === "" ? body : `${day} ${body}`);
  if (content.spans.length === 0) return said("off");
  return levelsOf(content)
    .map((spans) => {
      const times = spans.map(({ start, end }) => `${formatMinute(start)}-${formatMinute(end)}`).join(",");
      const level = spans[0]?.level;
      return said(level === ON ? times : `${times} "${level}"`);
    })
    .join(", ");
}

function openRules(rules: readonly Rule[], isHoliday: (day: number) => boolean): OpenRule[] {
  return rules.flatMap(({ days, content }): OpenRule[] => {
    const shared = { names: namer(days, isHoliday), isEveryDay: days.kind === "class" && days.name === "daily" };
    if (content.spans.length === 0) return [{ ...shared, spans: "off" as const, isAdditional: false }];
    return levelsOf(content).map((spans, i) => ({ ...shared, spans, isAdditional: i > 0 }));
  });
}

function namer(day: DayKey, isHoliday: (day: number) => boolean): (day: number) => boolean {
  switch (day.kind) {
    case "weekdays": {
      const named = WEEKDAYS.map((name) => day.days.includes(name));
      return (date) => named[weekdayIndex(date)] as boolean;
    }
    case "dates": {
      const [from, to] = [dayNumber(day.from), dayNumber(day.to)];
      return (date) => date >= from && date <= to;
    }
    case "class":
      return day.name === "holidays" ? isHoliday : () => true;
  }
}

/** A Monday that no one's dated rows reach. */
const FAR_MONDAY = dayNumber("2900-01-06");
const WEEKS = 6;

type Printed = Readonly<{ calendar: Calendar; rules: readonly Rule[]; line: string }>;

/** The first day on which the line means something else than the rows, to us or under the open notation; null where there is none. */
function firstDifference(schedule: Schedule, { calendar, rules, line }: Printed): PrintResult | null {
  // Six weeks in which every weekday meets every neighbour, holiday or not.
  const holidays = [0b0000000, 0b1111111, 0b1010101, 0b0101010, 0b1010101, 0b0000000].flatMap((bits, week) =>
    WEEKDAYS.flatMap((_, i) => (bits & (1 << i) ? [formatDate(FAR_MONDAY + week * 7 + i)] : [])),
  );
  const farDays = Array.from({ length: 7 * WEEKS - 1 }, (_, i) => FAR_MONDAY + 1 + i);
  const read = readLine(line);
  if (!read.ok) throw new Error(`printed a line that does not read: ${line}`);
  const differs = (days: readonly number[], own: Calendar) => {
    const compiled = compileSchedule(schedule, own);
    const back = compileSchedule({ ...schedule, rows: read.rows }, own, "last");
    const open = openRules(rules, compiled.isHoliday);
    return (
      differenceOn(compiled, days, (day) => levelsOfDay(back, day)) ?? differenceOn(compiled, days, (day) => openDay(open, day))
    );
  };
  return differs(farDays, { ...calendar, holidays }) ?? differs(daysAround(schedule), calendar);
}

function levelsOfDay(compiled: CompiledSchedule, day: number): Int32Array {
  const levels = new Int32Array(DAY_MINUTES);
  for (const { start, end, level } of compiled.dayOf(day)) levels.fill(level ?? 0, start, end);
  return levels;
}

/** The days at both ends of each dated row, far enough in for every weekday. */
function daysAround({ rows }: Schedule): number[] {
  const days = new Set<number>();
  for (const { day } of rows) {
    if (day.kind !== "dates") continue;
    const [from, to] = [dayNumber(day.from), dayNumber(day.to)];
    for (let i = -1; i <= 8; i++) {
      days.add(Math.min(from + i, to + 1));
      days.add(Math.max(to + 1 - i, from - 1));
    }
  }
  return [...days];
}

function differenceOn(
  compiled: CompiledSchedule,
  days: readonly number[],
  saidOn: (day: number) => Int32Array,
): PrintResult | null {
  for (const day of days) {
    const said = saidOn(day);
    for (const { start, end, level } of compiled.dayOf(day)) {
      const at = said.subarray(start, end).findIndex((other) => other !== level);
      if (at < 0) continue;
      const before = compiled.rowOf(day - 1);
      const isTail = runsPastMidnight(compiled.schedule.rows[before]?.spans ?? "off");
      const row = isTail ? before : compiled.rowOf(day) >= 0 ? compiled.rowOf(day) : before;
      const label = compiled.schedule.rows[row] ? dayKeyLabel((compiled.schedule.rows[row] as Row).day) : "outside";
      return {
        ok: false,
        row,
        label,
        why: "it runs past midnight into or out of a day of another row, which a line says differently",
      };
    }
  }
  return null;
}
