import { dayNumber, WEEKDAYS, type Weekday, weekdayIndex } from "../../time/date";
import { DAY_MINUTES } from "../../time/instant";
import { asCount, LEVEL_MAX, ON } from "../level";
import { type DayKey, dayKeyLabel, type Row } from "../schedule";
import type { Span } from "../span";
import { DAY_NAMES, dateOf, datesKey } from "./days";

/** Where a line stops making sense (a character's place, from 0) and what would have been right there. */
export type LineError = Readonly<{ at: number; message: string }>;

/** A row of a line and where its rule stands in the text. */
export type LineRow = Row & Readonly<{ at: number }>;

export type LineResult = Readonly<{ ok: true; rows: readonly LineRow[] }> | Readonly<{ ok: false; error: LineError }>;

const LINE_MAX = 4000;

/**
 * Reads an hours line (docs/model.md, Hours lines): the open `opening_hours` notation with weekday
 * lists and ranges, PH, dates with their year, off, times past midnight, `;` and additional rules.
 * Of the rows that come back the last that names a date applies, alone (precedence "last").
 */
export function readLine(text: string): LineResult {
  try {
    if (text.length > LINE_MAX) throw new Stop(LINE_MAX, `an hours line has at most ${LINE_MAX} characters`);
    return { ok: true, rows: new Reader(text).line() };
  } catch (error) {
    if (error instanceof Stop) return { ok: false, error: { at: error.at, message: error.message } };
    throw error;
  }
}

class Stop extends Error {
  constructor(
    readonly at: number,
    message: string,
  ) {
    super(message);
  }
}

const BODY_HELP = "expected hours such as 08:00-18:00, or off";
const DAY_HELP = "expected days such as Mo-Fr, PH or 2027 Apr 01, hours such as 08:00-18:00, or off";

class Reader {
  private place = 0;

  constructor(private readonly text: string) {}

  line(): readonly LineRow[] {
    this.skipSpace();
    if (this.isAtEnd()) throw new Stop(0, DAY_HELP);
    const rows: LineRow[] = [];
    let isAdditional = false;
    for (;;) {
      this.skipSpace();
      const at = this.place;
      const days = this.days();
      const spans = this.body();
      if (isAdditional) addTo(rows, { at, days, spans });
      else rows.push(...days.map((day) => ({ day, spans, onHolidays: day.kind === "weekdays", at })));
      this.skipSpace();
      if (this.isAtEnd()) return rows;
      isAdditional = this.text[this.place] === ",";
      if (!isAdditional && this.text[this.place] !== ";")
        throw new Stop(this.place, `"${this.rest()}": expected ; and another rule, or the end`);
      this.place++;
      this.skipSpace();
      if (this.isAtEnd() && !isAdditional) return rows;
    }
  }

  /** The days a rule names; every day where it names none. */
  private days(): DayKey[] {
    const weekdays = new Set<Weekday>();
    const keys: DayKey[] = [];
    let isFirst = true;
    for (;;) {
      const here = this.place;
      const key = this.dates() ?? this.holidays();
      if (key) keys.push(key);
      else {
        const days = this.weekdays();
        if (days.length === 0 && isFirst) break;
        if (days.length === 0) throw new Stop(here, `"${this.rest()}": expected another day after the comma`);
        for (const day of days) weekdays.add(day);
      }
      isFirst = false;
      this.skipSpace();
      if (this.text[this.place] !== ",") break;
      this.place++;
      this.skipSpace();
    }
    if (weekdays.size > 0) keys.unshift({ kind: "weekdays", days: WEEKDAYS.filter((day) => weekdays.has(day)) });
    return keys.length > 0 ? keys : [{ kind: "class", name: "daily" }];
  }

  private holidays(): DayKey | null {
    return this.take(/PH\b/y) ? { kind: "class", name: "holidays" } : null;
  }

  private weekdays(): Weekday[] {
    const first = this.weekday();
    if (first === null) return [];
    const here = this.place;
    if (!this.take(/\s*-\s*/y)) return [WEEKDAYS[first] as Weekday];
    const last = this.weekday();
    if (last === null) throw new Stop(here, `"${this.rest()}": expected a day after the hyphen: ${DAY_NAMES.join(", ")}`);
    const days: Weekday[] = [];
    for (let day = first; ; day = (day + 1) % 7) {
      days.push(WEEKDAYS[day] as Weekday);
      if (day === last) return days;
    }
  }

  private weekday(): number | null {
    const here = this.place;
    const word = this.take(/[A-Za-z]+/y)?.[0];
    if (word === undefined) return null;
    const index = (DAY_NAMES as readonly string[]).indexOf(word);
    if (index >= 0) return index;
    this.place = here;
    if (/^(off|closed)$/.test(word)) return null;
    const near = DAY_NAMES.find((name) => name.toLowerCase() === word.slice(0, 2).toLowerCase());
    const hint = /^ph$/i.test(word) ? "; did you mean PH?" : near ? `; did you mean ${near}?` : "";
    throw new Stop(here, `"${word}" is not a day${hint || `: ${DAY_HELP}`}`);
  }

  /** `2027 Apr 01`, `2027 Apr 01-05`, `2027 Apr 01-May 03`, `2027 Dec 30-2028 Jan 02`. */
  private dates(): DayKey | null {
    const here = this.place;
    const match = this.take(/(\d{4})\s+([A-Za-z]{3})\s+(\d{1,2})(?!\d)(?!:)/y);
    if (!match) return null;
    const [whole, year, month, day] = match as unknown as [string, string, string, string];
    const from = dateOf(year, month, day);
    if (from === null) throw new Stop(here, `"${whole}" is not a date: expected one such as 2027 Apr 01`);
    const end = this.take(/\s*-\s*(?:(?:(\d{4})\s+)?([A-Za-z]{3})\s+)?(\d{1,2})(?!\d)(?!:)/y);
    if (!end) return datesKey(from, from);
    const to = dateOf(end[1] ?? year, end[2] ?? month, end[3] as string);
    if (to === null) throw new Stop(here, `"${whole}${end[0]}" does not end with a date: expected 2027 Apr 01-05`);
    if (to < from) throw new Stop(here, `"${whole}${end[0]}" runs backwards: the first date comes first`);
    if (to - from > 3660) throw new Stop(here, `"${whole}${end[0]}" is longer than ten years`);
    return datesKey(from, to);
  }

  private body(): readonly Span[] | "off" {
    this.skipSpace();
    const here = this.place;
    if (this.take(/(off|closed)\b/y)) {
      this.skipSpace();
      if (this.text[this.place] === '"') throw new Stop(this.place, "off has no level");
      return "off";
    }
    const spans = this.take(/24\/7/y) ? [{ start: 0, end: DAY_MINUTES }] : this.spans();
    if (spans.length === 0)
      throw new Stop(here, this.isAtEnd() ? `${BODY_HELP} after the days` : `"${this.rest()}": ${BODY_HELP}`);
    const level = this.level();
    return spans.map((span) => ({ ...span, level }));
  }

  private spans(): { start: number; end: number }[] {
    const spans: { start: number; end: number }[] = [];
    for (;;) {
      const here = this.place;
      const start = this.time();
      if (start === null) {
        this.place = here;
        return spans;
      }
      if (start >= DAY_MINUTES) throw new Stop(here, "a span starts from 00:00 to 23:59");
      if (!this.take(/\s*-\s*/y)) throw new Stop(this.place, `"${this.rest()}": expected - and the time of the end`);
      const endsAt = this.place;
      const end = this.time();
      if (end === null) throw new Stop(endsAt, `"${this.rest()}": expected the time of the end, such as 18:00`);
      spans.push({ start, end: end <= start ? end + DAY_MINUTES : end });
      const comma = this.place;
      // A comma goes on with times here, or begins an additional rule.
      if (!this.take(/\s*,\s*(?=\d{1,2}:)/y)) {
        this.place = comma;
        return spans;
      }
    }
  }

  private time(): number | null {
    const here = this.place;
    const match = this.take(/(\d{1,2}):(\d{2})(?!\d)/y);
    if (!match) {
      if (/\d/.test(this.text[here] ?? "")) throw new Stop(here, `"${this.rest()}" is not a time: expected HH:MM`);
      return null;
    }
    const minute = Number(match[1]) * 60 + Number(match[2]);
    if (match[1]?.length !== 2) throw new Stop(here, `"${match[0]}": write the hour with two digits, 0${match[0]}`);
    if (Number(match[2]) > 59 || minute > DAY_MINUTES)
      throw new Stop(here, `"${match[0]}" is not a time: expected 00:00 to 24:00; past midnight is written 22:00-02:00`);
    return minute;
  }

  /** The open notation may say `open` before a comment; without one it leaves open what the comment means. */
  private level() {
    this.skipSpace();
    if (this.take(/open\b/y)) this.skipSpace();
    const here = this.place;
    if (this.text[here] !== '"') return ON;
    const match = this.take(/"([^"]*)"/y);
    if (!match) throw new Stop(here, "the quotation mark is not closed");
    const value = /^[1-9]\d{0,6}$/.test(match[1] as string) ? Number(match[1]) : Number.NaN;
    if (!(value <= LEVEL_MAX))
      throw new Stop(here, `"${match[1]}" is not a level: expected a whole number from 1 in quotation marks`);
    return asCount(value);
  }

  private take(pattern: RegExp): RegExpExecArray | null {
    pattern.lastIndex = this.place;
    const match = pattern.exec(this.text);
    if (match) this.place += match[0].length;
    return match;
  }

  private skipSpace(): void {
    this.take(/\s*/y);
  }

  private isAtEnd(): boolean {
    return this.place >= this.text.length;
  }

  private rest(): string {
    const rest = this.text.slice(this.place).trim();
    return rest.length > 24 ? `${rest.slice(0, 24)}…` : rest;
  }
}

type Addition = Readonly<{ at: number; days: readonly DayKey[]; spans: readonly Span[] | "off" }>;

/** Lays an additional rule's spans over those of the rules before it, day by day. */
function addTo(rows: LineRow[], { at, days, spans }: Addition): void {
  if (spans === "off") throw new Stop(at, "off after a comma adds nothing: put ; before it");
  for (const day of days) {
    const label = dayKeyLabel(day);
    const same = rows.findLastIndex((row) => dayKeyLabel(row.day) === label);
    const last = rows[same];
    if (last && rows.slice(same + 1).every((row) => !mayShareADate(row.day, day))) {
      rows[same] = { ...last, spans: [...(last.spans === "off" ? [] : last.spans), ...spans] };
    } else if (day.kind === "weekdays" && rows.every((row) => row.day.kind === "weekdays")) {
      for (const weekday of day.days) {
        const before = rows.findLast((row) => row.day.kind === "weekdays" && row.day.days.includes(weekday))?.spans ?? "off";
        const key: DayKey = { kind: "weekdays", days: [weekday] };
        rows.push({ day: key, spans: [...(before === "off" ? [] : before), ...spans], onHolidays: true, at });
      }
    } else {
      throw new Stop(at, "a rule after a comma names the same days as the rule before it");
    }
  }
}

/** True where two day keys may name the same date. Holidays may fall on any. */
export function mayShareADate(a: DayKey, b: DayKey): boolean {
  if (a.kind === "class" || b.kind === "class") return true;
  if (a.kind === "dates" && b.kind === "dates") return a.from <= b.to && b.from <= a.to;
  if (a.kind === "weekdays" && b.kind === "weekdays") return a.days.some((day) => b.days.includes(day));
  const [dates, weekdays] = a.kind === "dates" ? [a, b] : [b, a];
  if (dates.kind !== "dates" || weekdays.kind !== "weekdays") return true;
  const first = dayNumber(dates.from);
  const last = Math.min(first + 6, dayNumber(dates.to));
  for (let day = first; day <= last; day++) if (weekdays.days.includes(WEEKDAYS[weekdayIndex(day)] as Weekday)) return true;
  return false;
}
