import { formatDate, formatInstant, type Instant, localTime } from "@/core/time";
import type { ReportContent } from "./compose";

/** Where and when a mail says things are: links begin with `url`, times are those of `zone`. */
export type ReportFrame = Readonly<{ name: string; url: string; zone: string; unsubscribe: string | null }>;

/** `2027-03-11 18:00 Oslo`: a time always names its zone. */
export function timeText(t: Instant, zone: string): string {
  const { day, second } = localTime(zone, t);
  const two = (n: number) => String(n).padStart(2, "0");
  const place = (zone.split("/").at(-1) ?? zone).replaceAll("_", " ");
  return `${formatDate(day)} ${two(Math.floor(second / 3600))}:${two(Math.floor((second % 3600) / 60))} ${place}`;
}

export function subjectOf(content: ReportContent, { name }: ReportFrame): string {
  const { running, currency, strays } = content;
  if (content.empty === "nothing runs") return `${name}: nothing runs`;
  if (content.empty === "matches nothing") return `${name}: its scope matches nothing`;
  const absent = content.missing.length > 0 ? `, ${content.missing.length} missing` : "";
  const off = running.notDue > 0 ? `, ${running.notDue} should not` : "";
  const left = strays.count > 0 ? `, ${strays.count} ${strays.count === 1 ? "stray" : "strays"}` : "";
  return `${name}: ${running.count} running${absent}${off}, ${running.perHour} ${currency} an hour${left}`;
}

/** What the last day that is reckoned cost, around the cost as `mark` sets it. */
export function spentWords({ spent, currency }: ReportContent, mark: (cost: string) => string = (cost) => cost): string {
  if (spent === null) return "No day is reckoned yet.";
  const { day, isYesterday, cost, before } = spent;
  const which = isYesterday ? `Yesterday, ${day} UTC,` : `${day} UTC, the last day that is reckoned:`;
  return `${which} all of it cost ${mark(cost)} ${currency}${before === null ? "" : `; the day before ${before}`}.`;
}

/** Where the machines of a figure stand on Burn, as of the instant the report tells of. */
export function burnLink({ at, scope }: ReportContent, { url }: ReportFrame, filter: string | null = null, only = ""): string {
  const params = new URLSearchParams();
  for (const one of [scope, filter ?? ""]) if (one !== "") params.append("filter", one);
  if (only !== "") params.set("only", only);
  params.set("at", formatInstant(at));
  return `${url}/?${params}`;
}

/** The month in all, what is off included; empty where nobody knows it. */
export function monthWords(
  { running: { month, byMonthEnd, ifAsNow }, currency, view }: ReportContent,
  mark: (cost: string) => string = (cost) => cost,
): string[] {
  if (month === null || byMonthEnd === null || ifAsNow === null) return [];
  return [
    `${mark(month)} ${currency} this month so far; ${byMonthEnd} by its end if plans are kept,`,
    `${ifAsNow} if all goes on as now. It is ${view} commitments.`,
  ];
}

/** What is at spot price, and what mixes saved beside what was foretold; empty where there is neither. */
export function purchaseWords({ spot, mix, spent, currency }: ReportContent): string {
  const runs =
    spot &&
    `${spot.count} at spot price: ${spot.perHour} ${currency} an hour, ${spot.fullPerHour} at full price${spot.less === null ? "" : `, ${spot.less} less`}.`;
  const cents = (value: number) => value.toFixed(2).replace("-", "\u2212");
  const saved =
    mix &&
    spent &&
    `Mixes saved ${cents(mix.saved)} ${currency} ${spent.isYesterday ? "yesterday" : `on ${spent.day}`}; ${cents(mix.low)} to ${cents(mix.high)} was foretold.`;
  return [runs, saved].filter(Boolean).join(" ");
}

/** The heading of the column with that day's money. */
export function spentHeading({ spent }: ReportContent): string {
  return spent === null || spent.isYesterday ? "yesterday" : spent.day;
}

/** Why there is nothing else to say; empty where there is. */
export function emptyWords({ empty, scope }: ReportContent): string {
  if (empty === null) return "";
  if (empty === "nothing runs") return "Nothing runs, and nothing is left lying about.";
  return `Nothing there is matches the scope of this report: ${scope}. It would say so every day; change the scope under Reports.`;
}

const MISSING_NAMED = 5;

/** What should be on by now and is not, and why; empty where there is none. */
export function missingWords({ missing }: ReportContent): string {
  if (missing.length === 0) return "";
  const names = missing.slice(0, MISSING_NAMED).map(({ name, lastAnswer }) => `${name} (${lastAnswer})`);
  const more = missing.length > MISSING_NAMED ? ` and ${missing.length - MISSING_NAMED} more` : "";
  return `${missing.length} should be on and ${missing.length === 1 ? "is" : "are"} not: ${names.join(", ")}${more}.`;
}

/** What changed since yesterday, a sentence each. */
export function changeWords({ started, stopped, evicted, appeared, gone }: ReportContent["changes"]): string[] {
  const some = (names: readonly string[]) =>
    names.length <= 8 ? names.join(", ") : `${names.slice(0, 8).join(", ")} and ${names.length - 8} more`;
  return [
    started + stopped > 0 ? `${started} started, ${stopped} stopped` : "",
    evicted.length > 0 ? `evicted: ${some(evicted)}` : "",
    appeared.length > 0 ? `new: ${some(appeared)}` : "",
    gone.length > 0 ? `gone: ${some(gone)}` : "",
  ].filter(Boolean);
}

export function scopeWords(scope: string): string {
  return scope === "" ? "everything" : scope;
}

/** The two sums of strays, without one of which there is none. */
export function strayParts({
  nobody,
  unthought,
}: ReportContent["strays"]): readonly Readonly<{ count: number; words: string; perMonth: string }>[] {
  return [
    { ...nobody, words: nobody.count === 1 ? "serves nobody" : "serve nobody" },
    { ...unthought, words: unthought.count === 1 ? "runs that nobody has thought of" : "run that nobody has thought of" },
  ].filter(({ count }) => count > 0);
}
