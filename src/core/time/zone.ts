import { Temporal } from "temporal-polyfill";
import { DAY_S, type Instant } from "./instant";

/** A stretch of constant offset: local = UTC + offset (seconds) from `from` on. */
export type OffsetSegment = Readonly<{ from: Instant; to: Instant; offset: number }>;

const ZONE_NAME = /^[A-Za-z][A-Za-z0-9_+-]*(\/[A-Za-z0-9_+-]+)*$/;
const zones = new Set<string>();
/** Names may be written in any case, so there are more of them than zones. */
const MOST_ZONES = 2000;

/** True for a name of the IANA time zone database that this runtime knows. A bare offset is not a zone. What is none is not remembered: it may be anything that strangers write. */
export function isZone(name: string): boolean {
  if (zones.has(name)) return true;
  const answer = ZONE_NAME.test(name) && formatsIn(name);
  if (answer && zones.size < MOST_ZONES) zones.add(name);
  return answer;
}

function formatsIn(name: string): boolean {
  try {
    new Intl.DateTimeFormat("en", { timeZone: name });
    return true;
  } catch {
    return false;
  }
}

/** Every canonical zone name this runtime knows, UTC included, in alphabetical order. */
export function zoneNames(): readonly string[] {
  return [...new Set([...Intl.supportedValuesOf("timeZone"), "UTC"])].sort();
}

const years = new Map<string, readonly OffsetSegment[]>();

/** The offset segments of one UTC year, cached: finding a transition costs about a millisecond. */
function segmentsOfYear(zone: string, year: number): readonly OffsetSegment[] {
  const key = `${zone} ${year}`;
  const cached = years.get(key);
  if (cached) return cached;
  const end = startOfYear(year + 1);
  const segments: OffsetSegment[] = [];
  let from = startOfYear(year);
  while (from < end) {
    const here = Temporal.Instant.fromEpochMilliseconds(from * 1000).toZonedDateTimeISO(zone);
    const next = here.getTimeZoneTransition("next");
    const to = next ? Math.min(end, next.epochMilliseconds / 1000) : end;
    segments.push({ from, to, offset: here.offsetNanoseconds / 1e9 });
    from = to;
  }
  years.set(key, segments);
  return segments;
}

function startOfYear(year: number): Instant {
  const date = new Date(0);
  date.setUTCFullYear(year, 0, 1);
  return date.getTime() / 1000;
}

function yearOf(t: Instant): number {
  return new Date(t * 1000).getUTCFullYear();
}

/** The constant-offset segments that tile `[from, to)`, in order. Neighbours may share an offset at a year's end. */
export function offsetSegments(zone: string, from: Instant, to: Instant): OffsetSegment[] {
  const result: OffsetSegment[] = [];
  const lastYear = yearOf(to - 1);
  for (let year = yearOf(from); year <= lastYear; year++) {
    for (const segment of segmentsOfYear(zone, year)) {
      const start = Math.max(from, segment.from);
      const end = Math.min(to, segment.to);
      if (start < end) result.push({ from: start, to: end, offset: segment.offset });
    }
  }
  return result;
}

/** Seconds to add to UTC for the zone's wall clock at `t`. */
export function offsetAt(zone: string, t: Instant): number {
  for (const segment of segmentsOfYear(zone, yearOf(t))) {
    if (t < segment.to) return segment.offset;
  }
  throw new Error(`no offset for ${zone} at ${t}`);
}

export type LocalTime = Readonly<{ day: number; second: number; offset: number }>;

/** The wall clock of `zone` at `t`: day number, second of that day, offset in seconds. */
export function localTime(zone: string, t: Instant): LocalTime {
  const offset = offsetAt(zone, t);
  const local = t + offset;
  const day = Math.floor(local / DAY_S);
  return { day, second: local - day * DAY_S, offset };
}

/** The instants of `[from, to)` at which the zone's offset changes, with the change in seconds (+3600 in spring). */
export function clockChanges(zone: string, from: Instant, to: Instant): readonly { at: Instant; change: number }[] {
  const segments = offsetSegments(zone, from, to);
  return segments.flatMap((segment, i) => {
    const before = segments[i - 1];
    if (!before || before.offset === segment.offset) return [];
    return [{ at: segment.from, change: segment.offset - before.offset }];
  });
}

/**
 * The instant of a wall-clock time as RFC 5545 reads it: of two that have it, the first; one that
 * does not occur counts with the offset before the gap.
 */
export function resolveLocal(zone: string, day: number, second: number): Instant {
  const local = day * DAY_S + second;
  const before = offsetAt(zone, local - DAY_S);
  const after = offsetAt(zone, local + DAY_S);
  if (offsetAt(zone, local - before) === before) return local - before;
  return offsetAt(zone, local - after) === after ? local - after : local - before;
}

/** The longest that a clock is put back at once, with room to spare. */
const LONGEST_CHANGE_S = 3 * 3600;

/** The offset in seconds of an instant whose wall-clock time occurs twice, being put back; null for any other. */
export function repeatedOffset(zone: string, t: Instant): number | null {
  const isRepeated = clockChanges(zone, t - LONGEST_CHANGE_S, t + LONGEST_CHANGE_S).some(
    ({ at, change }) => change < 0 && t >= at + change && t < at - change,
  );
  return isRepeated ? offsetAt(zone, t) : null;
}

/** `+02:00` */
export function offsetText(offset: number): string {
  const minutes = Math.round(Math.abs(offset) / 60);
  const two = (n: number) => String(n).padStart(2, "0");
  return `${offset < 0 ? "-" : "+"}${two(Math.floor(minutes / 60))}:${two(minutes % 60)}`;
}
