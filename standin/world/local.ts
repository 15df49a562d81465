import { DAY, HOUR } from "./types";

const formats = new Map<string, Intl.DateTimeFormat>();

const QUARTER = 900;
const offsets = new Map<string, number>();
let last = { zone: "", quarter: 0, offset: 0 };

/** Seconds to add to UTC, kept per quarter of an hour: no clock changes in the middle of one. */
export function offsetSeconds(zone: string, t: number): number {
  const quarter = Math.floor(t / QUARTER);
  // Samples are asked for one after the other.
  if (zone === last.zone && quarter === last.quarter) return last.offset;
  const key = `${zone} ${quarter}`;
  let offset = offsets.get(key);
  if (offset === undefined) {
    if (offsets.size > 200_000) offsets.clear();
    offset = askedOffset(zone, t);
    offsets.set(key, offset);
  }
  last = { zone, quarter, offset };
  return offset;
}

/** Seconds to add to UTC for a zone's wall clock. The stand-in asks the runtime itself and shares no code with what it checks. */
function askedOffset(zone: string, t: number): number {
  let format = formats.get(zone);
  if (!format) {
    format = new Intl.DateTimeFormat("en-US", {
      timeZone: zone,
      hourCycle: "h23",
      year: "numeric",
      month: "numeric",
      day: "numeric",
      hour: "numeric",
      minute: "numeric",
      second: "numeric",
    });
    formats.set(zone, format);
  }
  const part: Record<string, number> = {};
  for (const { type, value } of format.formatToParts(t * 1000)) part[type] = Number(value);
  const wall = Date.UTC(part.year as number, (part.month as number) - 1, part.day, part.hour, part.minute, part.second) / 1000;
  return wall - t;
}

/** Weekday (0 Monday) and hour of day with fraction on the zone's wall clock. */
export function wallClock(zone: string, t: number): { weekday: number; hour: number; day: number } {
  const local = t + offsetSeconds(zone, t);
  const day = Math.floor(local / DAY);
  return { day, weekday: (((day + 3) % 7) + 7) % 7, hour: (local - day * DAY) / HOUR };
}

/** The instant of a wall-clock hour on a local day number. */
export function instantOf(zone: string, day: number, hour: number): number {
  const wall = day * DAY + Math.round(hour * HOUR);
  return wall - offsetSeconds(zone, wall - offsetSeconds(zone, wall));
}
