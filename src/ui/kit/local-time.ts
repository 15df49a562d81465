import {
  dayNumber,
  formatDate,
  type Instant,
  localTime,
  offsetAt,
  offsetText,
  repeatedOffset,
  resolveLocal,
  tryParseDate,
} from "@/core/time";

/** `2027-03-11 22:00` on the zone's wall clock; of an hour that comes twice with its offset, `2027-10-31 02:30 +01:00`. */
export function localText(t: Instant, zone: string): string {
  const { day, second } = localTime(zone, t);
  const minute = Math.floor(second / 60);
  const time = `${String(Math.floor(minute / 60)).padStart(2, "0")}:${String(minute % 60).padStart(2, "0")}`;
  const offset = repeatedOffset(zone, t);
  return `${formatDate(day)} ${time}${offset === null ? "" : ` ${offsetText(offset)}`}`;
}

/** The instant of such a text; null when it is none. Of a time that occurs twice, the first unless its offset is said. */
export function tryParseLocal(text: string, zone: string): Instant | null {
  const match = /^(\d{4}-\d\d-\d\d)[ T](\d\d):(\d\d)(?:\s*([+-]\d\d:\d\d))?$/.exec(text.trim());
  if (!match || tryParseDate(match[1] as string) === null) return null;
  const [hour, minute] = [Number(match[2]), Number(match[3])];
  if (hour > 23 || minute > 59) return null;
  const day = dayNumber(match[1] as string);
  const first = resolveLocal(zone, day, hour * 3600 + minute * 60);
  if (match[4] === undefined || offsetText(offsetAt(zone, first)) === match[4]) return first;
  const [sign, hours, minutes] = [match[4][0] === "-" ? -1 : 1, Number(match[4].slice(1, 3)), Number(match[4].slice(4))];
  const said = day * 86_400 + hour * 3600 + minute * 60 - sign * (hours * 3600 + minutes * 60);
  return offsetText(offsetAt(zone, said)) === match[4] ? said : null;
}
