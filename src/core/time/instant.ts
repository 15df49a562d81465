/** Whole seconds since 1970-01-01T00:00:00Z. */
export type Instant = number;

export const MINUTE_S = 60;
export const HOUR_S = 3600;
export const DAY_S = 86_400;
export const DAY_MINUTES = 1440;
/** Billing's month: 730 hours (docs/model.md, Money). */
export const MONTH_S = 730 * HOUR_S;
export const WEEK_HOURS = 168;
export const MONTH_HOURS = MONTH_S / HOUR_S;

const INSTANT = /^(\d{4})-(\d\d)-(\d\d)T(\d\d):(\d\d):(\d\d)(Z|[+-]\d\d:\d\d)$/;

/** Reads an RFC 3339 instant with seconds and any offset; null when it is not one or does not exist in the calendar. */
export function tryParseInstant(text: string): Instant | null {
  const match = INSTANT.exec(text);
  if (!match) return null;
  const [year, month, day, hour, minute, second] = match.slice(1, 7).map(Number) as [
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  if (hour > 23 || minute > 59 || second > 59) return null;
  const midnight = new Date(0);
  midnight.setUTCFullYear(year, month - 1, day);
  if (midnight.getUTCMonth() !== month - 1 || midnight.getUTCDate() !== day) return null;
  const offset = offsetOf(match[7] as string);
  if (offset === null) return null;
  return midnight.getTime() / 1000 + hour * HOUR_S + minute * MINUTE_S + second - offset;
}

function offsetOf(text: string): number | null {
  if (text === "Z") return 0;
  const hours = Number(text.slice(1, 3));
  const minutes = Number(text.slice(4, 6));
  if (hours > 23 || minutes > 59) return null;
  return (text[0] === "-" ? -1 : 1) * (hours * HOUR_S + minutes * MINUTE_S);
}

/** `YYYY-MM-DDTHH:MM:SSZ`. */
export function formatInstant(t: Instant): string {
  return `${new Date(t * 1000).toISOString().slice(0, 19)}Z`;
}
