import { type CompiledSchedule, expand, type Level } from "../hours";
import {
  clockChanges,
  DAY_MINUTES,
  DAY_S,
  formatDate,
  type Instant,
  localTime,
  MINUTE_S,
  offsetAt,
  resolveLocal,
  WEEKDAYS,
  weekdayIndex,
} from "../time";

const BYDAY = ["MO", "TU", "WE", "TH", "FR", "SA", "SU"] as const;

export type IcsSpan = Readonly<{ from: Instant; to: Instant; stamp: Instant }>;

/**
 * A schedule as an iCalendar object (RFC 5545): one weekly event for each stretch of hours that
 * comes back, with EXDATE where it does not apply, and single events for the rest. Whatever touches
 * a clock change is written in UTC, so that every reader has it at the same instants. What is off is
 * not written; what is left as it is says so. `stamp` is when the text was made.
 */
export function scheduleToIcs(compiled: CompiledSchedule, { from, to, stamp }: IcsSpan): string {
  const { name, zone } = compiled.schedule;
  const { recurring, single } = sortOut(compiled, from, to);
  const events = [
    ...recurring.flatMap((pattern) => weeklyEvents(pattern, zone)),
    ...single.map((stretch): Event => ({ level: stretch.level, lines: utcTimes(stretch), at: stretch.from })),
  ].sort((a, b) => a.at - b.at);
  const lines = [
    "BEGIN:VCALENDAR",
    "VERSION:2.0",
    "PRODID:-//Umbrik//Hours//EN",
    "CALSCALE:GREGORIAN",
    "METHOD:PUBLISH",
    `NAME:${escaped(name)}`,
    `X-WR-CALNAME:${escaped(name)}`,
    "REFRESH-INTERVAL;VALUE=DURATION:PT6H",
    ...zoneLines(zone, from, to),
    ...events.flatMap(({ level, lines: times }, i) => [
      "BEGIN:VEVENT",
      `UID:${encodeURIComponent(name)}-${i + 1}@umbrik`,
      `DTSTAMP:${utcText(stamp)}`,
      ...times,
      `SUMMARY:${escaped(`${name}: ${level === null ? "left as it is" : level === 1 ? "on" : `level ${level}`}`)}`,
      "TRANSP:TRANSPARENT",
      "END:VEVENT",
    ]),
    "END:VCALENDAR",
  ];
  return lines.map((line) => `${folded(line)}\r\n`).join("");
}

type Stretch = Readonly<{ from: Instant; to: Instant; level: Level | null }>;
/** Stretches that begin at the same minute, last as long and have one level; `days` in order. */
type Pattern = Readonly<{ level: Level | null; startS: number; lengthS: number; days: readonly number[] }>;
type Event = Readonly<{ level: Level | null; lines: readonly string[]; at: Instant }>;

function sortOut(compiled: CompiledSchedule, from: Instant, to: Instant): { recurring: Pattern[]; single: Stretch[] } {
  const { zone } = compiled.schedule;
  const patterns = new Map<string, Pattern & { days: number[] }>();
  const single: Stretch[] = [];
  const changes = clockChanges(zone, from - 2 * DAY_S, to + 2 * DAY_S);
  // Readers differ on wall-clock times that occur twice or never: nothing near one is written by the wall clock.
  const isNearChange = (stretch: Stretch) =>
    changes.some(({ at, change }) => stretch.from <= at + Math.abs(change) && stretch.to >= at - Math.abs(change));
  for (const stretch of stretchesOf(compiled, from, to)) {
    const start = localTime(zone, stretch.from);
    const end = localTime(zone, stretch.to);
    const lengthS = (end.day - start.day) * DAY_S + end.second - start.second;
    if (isNearChange(stretch) || lengthS > DAY_S * 6) {
      single.push(stretch);
      continue;
    }
    const key = `${start.second} ${lengthS} ${stretch.level}`;
    const pattern = patterns.get(key) ?? { level: stretch.level, startS: start.second, lengthS, days: [] };
    pattern.days.push(start.day);
    patterns.set(key, pattern);
  }
  return { recurring: [...patterns.values()], single };
}

/** What is not off, neighbours of one level joined whatever their rows. */
function stretchesOf(compiled: CompiledSchedule, from: Instant, to: Instant): Stretch[] {
  const joined: Stretch[] = [];
  for (const { from: start, to: end, level } of expand(compiled, from, to)) {
    const last = joined.at(-1);
    if (last && last.level === level) joined[joined.length - 1] = { ...last, to: end };
    else joined.push({ from: start, to: end, level });
  }
  return joined.filter(({ level }) => level !== 0);
}

/** The weekdays on which a pattern comes back most weeks as one event, its other days each as its own. */
function weeklyEvents({ level, startS, lengthS, days }: Pattern, zone: string): Event[] {
  const first = days[0] as number;
  const last = days.at(-1) as number;
  const isUsual = WEEKDAYS.map((_, weekday) => {
    const count = days.filter((day) => weekdayIndex(day) === weekday).length;
    return count >= 3 && count * 2 > (last - first) / 7;
  });
  const usual = days.filter((day) => isUsual[weekdayIndex(day)]);
  const others = days.filter((day) => !isUsual[weekdayIndex(day)]);
  const at = (day: number) => resolveLocal(zone, day, startS);
  const times = (day: number) => [
    `DTSTART;TZID=${zone}:${localText(day, startS)}`,
    `DTEND;TZID=${zone}:${localText(day, startS + lengthS)}`,
  ];
  const events = others.map((day): Event => ({ level, lines: times(day), at: at(day) }));
  const [begin, end] = [usual[0], usual.at(-1)];
  if (begin === undefined || end === undefined) return events;
  const present = new Set(usual);
  const missing: string[] = [];
  for (let day = begin; day < end; day++)
    if (isUsual[weekdayIndex(day)] && !present.has(day)) missing.push(localText(day, startS));
  const named = BYDAY.filter((_, weekday) => isUsual[weekday]).join(",");
  const lines = [...times(begin), `RRULE:FREQ=WEEKLY;BYDAY=${named};UNTIL=${utcText(at(end))}`];
  if (missing.length > 0) lines.push(`EXDATE;TZID=${zone}:${missing.join(",")}`);
  return [...events, { level, lines, at: at(begin) }];
}

function utcTimes({ from, to }: Stretch): string[] {
  return [`DTSTART:${utcText(from)}`, `DTEND:${utcText(to)}`];
}

/** Each change of the zone's clock in the span as an observance of its own, and the offset before the first. */
function zoneLines(zone: string, from: Instant, to: Instant): string[] {
  const begin = from - 8 * DAY_S;
  const first = offsetAt(zone, begin);
  const observance = (kind: string, start: string, before: number, after: number) => [
    `BEGIN:${kind}`,
    `DTSTART:${start}`,
    `TZOFFSETFROM:${offsetText(before)}`,
    `TZOFFSETTO:${offsetText(after)}`,
    `END:${kind}`,
  ];
  let offset = first;
  const changes = clockChanges(zone, begin, to + 8 * DAY_S).flatMap(({ at, change }) => {
    const before = offset;
    offset += change;
    const local = at + before;
    const day = Math.floor(local / DAY_S);
    return observance(change > 0 ? "DAYLIGHT" : "STANDARD", localText(day, local - day * DAY_S), before, offset);
  });
  return [
    "BEGIN:VTIMEZONE",
    `TZID:${zone}`,
    ...observance("STANDARD", "19700101T000000", first, first),
    ...changes,
    "END:VTIMEZONE",
  ];
}

function offsetText(offset: number): string {
  const minutes = Math.floor(Math.abs(offset) / MINUTE_S);
  return `${offset < 0 ? "-" : "+"}${two(Math.floor(minutes / 60))}${two(minutes % 60)}`;
}

function localText(day: number, second: number): string {
  const date = day + Math.floor(second / DAY_S);
  const rest = second - Math.floor(second / DAY_S) * DAY_S;
  const minute = Math.floor(rest / MINUTE_S) % DAY_MINUTES;
  return `${formatDate(date).replaceAll("-", "")}T${two(Math.floor(minute / 60))}${two(minute % 60)}${two(rest % MINUTE_S)}`;
}

function utcText(t: Instant): string {
  const day = Math.floor(t / DAY_S);
  return `${localText(day, t - day * DAY_S)}Z`;
}

function two(value: number): string {
  return String(value).padStart(2, "0");
}

function escaped(text: string): string {
  return text.replace(/[\\;,]/g, (sign) => `\\${sign}`).replace(/\r?\n/g, "\\n");
}

const encoder = new TextEncoder();

/** Lines of at most 75 octets; the rest goes on after a line break and a space. Characters stay whole. */
function folded(line: string): string {
  let result = "";
  let octets = 0;
  for (const sign of line) {
    const size = encoder.encode(sign).length;
    if (octets + size > 74) {
      result += "\r\n ";
      octets = 1;
    }
    result += sign;
    octets += size;
  }
  return result;
}
