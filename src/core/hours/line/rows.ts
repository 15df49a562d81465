import { WEEKDAYS } from "../../time/date";
import type { Row } from "../schedule";
import { runsPastMidnight } from "../span";
import { dayKeyToLine } from "./days";
import { type LineError, type LineRow, mayShareADate, readLine } from "./read";

export type LineRowsResult = Readonly<{ ok: true; rows: readonly Row[] }> | Readonly<{ ok: false; error: LineError }>;

/**
 * Reads a line as the rows of a schedule, where the most specific row speaks. A line in which a more
 * general rule comes after a particular one and overrides it cannot be said in rows: the error stands
 * at that rule.
 */
export function readLineRows(text: string): LineRowsResult {
  const line = readLine(text);
  if (!line.ok) return line;
  const rows = splitAtHolidays(line.rows);
  const error = overriding(rows);
  if (error) return { ok: false, error };
  return { ok: true, rows: rows.map(({ day, spans, onHolidays }) => ({ day, spans, onHolidays })) };
}

/**
 * In rows a weekday before the line's last PH rule does not count on holidays. Where a weekday comes
 * after it and does count, PH cannot be the row `holidays`, which would beat it: it becomes
 * `restdays`, and every weekday gets a row of its own so that no plain rest day follows it.
 */
function splitAtHolidays(rows: readonly LineRow[]): readonly LineRow[] {
  const isHolidays = ({ day }: LineRow) => day.kind === "class" && day.name === "holidays";
  const last = rows.findLastIndex(isHolidays);
  const holidays = rows[last];
  if (!holidays) return rows;
  const undated = rows.filter((row) => row.day.kind !== "dates" && !isHolidays(row));
  const isAfter = (row: LineRow) => rows.indexOf(row) > last;
  const weekdays = undated.filter(({ day }) => day.kind === "weekdays");
  const marked = (row: LineRow): LineRow => ({ ...row, onHolidays: row.day.kind === "weekdays" && isAfter(row) });
  if (!weekdays.some((row) => isAfter(row) && !isSame(row, holidays))) {
    return rows.filter((row) => !isHolidays(row) || row === holidays).map((row) => (isHolidays(row) ? row : marked(row)));
  }
  const daily = undated.filter(({ day }) => day.kind === "class");
  const inOrder = (put: readonly LineRow[]) =>
    rows.flatMap((row) => (row === holidays ? put : isHolidays(row) ? [] : row.day.kind === "dates" ? [row] : [marked(row)]));
  if (holidays.spans === "off" && daily.length === 0) return inOrder([]);
  const named = new Set(weekdays.flatMap(({ day }) => (day.kind === "weekdays" ? day.days : [])));
  const rest = WEEKDAYS.filter((day) => !named.has(day));
  const isPastMidnight = rows.some(({ spans }) => runsPastMidnight(spans));
  // An off row would also cut off what runs past midnight into its day: then the line stays as it is and is refused.
  if (rest.length > 0 && daily.length === 0 && isPastMidnight) return rows;
  const spans = daily.at(-1)?.spans ?? "off";
  const others: LineRow[] = rest.length === 0 ? [] : [{ day: { kind: "weekdays", days: rest }, spans, onHolidays: false, at: 0 }];
  const restdays: LineRow = { ...holidays, day: { kind: "class", name: "restdays" } };
  // In the order of the line, so that what overrides what can still be told.
  const placed = inOrder([restdays]);
  const isGeneral = ({ day }: LineRow) => day.kind === "class" && day.name === "daily";
  const first = placed.findLastIndex(isGeneral) + 1;
  return [...placed.slice(0, first), ...others, ...placed.slice(first)];
}

/** The first rule that overrides a more particular one before it. */
function overriding(rows: readonly LineRow[]): LineError | null {
  for (const [i, later] of rows.entries()) {
    const earlier = rows
      .slice(0, i)
      .find((row) => specificity(row) > specificity(later) && mayMeet(row, later) && !isSame(row, later));
    if (earlier) {
      const [general, particular] = [dayKeyToLine(later.day) || "every day", dayKeyToLine(earlier.day)];
      return { at: later.at, message: `${general} comes after ${particular} and overrides it: put the general rule first` };
    }
  }
  return null;
}

/** True where both may speak for the same date: PH as `restdays` and a weekday that does not count on holidays never do. */
function mayMeet(earlier: LineRow, later: LineRow): boolean {
  const isOnHolidays = later.day.kind === "class" && later.day.name === "restdays";
  if (isOnHolidays && earlier.day.kind === "weekdays" && !earlier.onHolidays) return false;
  return mayShareADate(earlier.day, later.day);
}

function isSame(a: Row, b: Row): boolean {
  return JSON.stringify(a.spans) === JSON.stringify(b.spans);
}

function specificity({ day }: Row): number {
  if (day.kind === "dates") return 5;
  if (day.kind === "weekdays") return 3;
  return { daily: 1, restdays: 2, workdays: 2, holidays: 4 }[day.name];
}
