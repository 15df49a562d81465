import { DAY_MINUTES } from "../time/instant";
import { formatMinute, tryParseSpan } from "./span";

const TIME = String.raw`(?:(\d{1,2})(?:[:.h](\d{2}))?|(\d{2})(\d{2}))\s*(am|pm)?`;
const TYPED = new RegExp(String.raw`^${TIME}\s*(?:-|–|—|to)\s*${TIME}(?:\s*x\s*(\d{1,7}))?$`, "i");
const HOUR_MINUTES = 60;
const NOON = 12 * HOUR_MINUTES;

/** What a typed span may mean, as `tryParseSpan` reads it, with words for each. */
export type Meaning = Readonly<{ text: string; words: string }>;

/**
 * What people type for a span, in the words of the plan file: `8-17`, `7:30 – 18`, `07.30-18.00`, `0730-1800`,
 * `9am-5:30pm`, `8 to 17 x3`. One meaning is what it means; two where it ends before it begins in a morning and a
 * person is asked; none where it does not read.
 */
export function meaningsOf(typed: string): readonly Meaning[] {
  const text = typed.trim();
  const exact = tryParseSpan(text);
  const match = TYPED.exec(text);
  if (!match) return exact.ok ? [{ text, words: text }] : [];
  const [, h1, m1, hh1, mm1, half1, h2, m2, hh2, mm2, half2, level] = match;
  const end = minuteOf(h2 ?? hh2, m2 ?? mm2, half2);
  const start = startOf(h1 ?? hh1, m1 ?? mm1, { half: half1, end: half2 ? end : null });
  if (start === null || end === null || start >= DAY_MINUTES) return [];
  const suffix = level === undefined ? "" : ` x${Number(level)}`;
  const span = (to: number) => `${formatMinute(start)}-${formatMinute(to)}${suffix}`;
  if (!tryParseSpan(span(end)).ok) return [];
  // A night begins in the afternoon; what begins in a morning and ends before it may be a slip for the afternoon.
  const isAsked = end < start && start < NOON && half1 === undefined && half2 === undefined;
  if (!isAsked) return [{ text: span(end), words: span(end) }];
  const afternoon = end + NOON > start ? [{ text: span(end + NOON), words: `till ${formatMinute(end + NOON)}` }] : [];
  return [...afternoon, { text: span(end), words: `over midnight, till ${formatMinute(end)}` }];
}

function minuteOf(hour: string | undefined, minute: string | undefined, half: string | undefined): number | null {
  const [h, m] = [Number(hour), Number(minute ?? 0)];
  if (m > 59 || h > 24 || (h === 24 && m > 0)) return null;
  if (half === undefined) return h * HOUR_MINUTES + m;
  if (h < 1 || h > 12) return null;
  return (h % 12) * HOUR_MINUTES + m + (half.toLowerCase() === "pm" ? NOON : 0);
}

/** `1-5pm` begins after noon, `8-5pm` before: a half of the day that is said once is meant for both where it can be. */
function startOf(
  hour: string | undefined,
  minute: string | undefined,
  { half, end }: { half: string | undefined; end: number | null },
): number | null {
  if (half !== undefined || end === null || Number(hour) > 12) return minuteOf(hour, minute, half);
  const late = minuteOf(hour, minute, "pm");
  return end >= NOON && late !== null && late < end ? late : minuteOf(hour, minute, "am");
}
