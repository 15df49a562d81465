import { dayNumber, formatDate, type Instant, localTime, resolveLocal, tryParseDate } from "@/core/time";

/** `2027-03-11 22:00` on the zone's wall clock. */
export function localText(t: Instant, zone: string): string {
  const { day, second } = localTime(zone, t);
  const minute = Math.floor(second / 60);
  return `${formatDate(day)} ${String(Math.floor(minute / 60)).padStart(2, "0")}:${String(minute % 60).padStart(2, "0")}`;
}

/** The instant of such a text; null when it is none. Of a time that occurs twice, the first. */
export function tryParseLocal(text: string, zone: string): Instant | null {
  const match = /^(\d{4}-\d\d-\d\d)[ T](\d\d):(\d\d)$/.exec(text.trim());
  if (!match || tryParseDate(match[1] as string) === null) return null;
  const [hour, minute] = [Number(match[2]), Number(match[3])];
  if (hour > 23 || minute > 59) return null;
  return resolveLocal(zone, dayNumber(match[1] as string), hour * 3600 + minute * 60);
}
