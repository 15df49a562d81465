import { type Instant, offsetText, repeatedOffset } from "@/core/time";

const formats = new Map<string, Intl.DateTimeFormat>();

function format(zone: string, options: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  const key = `${zone} ${JSON.stringify(options)}`;
  let made = formats.get(key);
  if (!made) {
    made = new Intl.DateTimeFormat("en-GB", { timeZone: zone, hourCycle: "h23", ...options });
    formats.set(key, made);
  }
  return made;
}

/** The place a zone is named after: `Europe/Oslo` is Oslo. */
export function placeOf(zone: string): string {
  return (zone.split("/").at(-1) ?? zone).replaceAll("_", " ");
}

/** `Thu 11 Mar 06:00`; with the year where it is not that of `now`. */
export function dayAndTime(t: Instant, zone: string, now: Instant = t): string {
  const part = parts(t, zone);
  const year = part.year === parts(now, zone).year ? "" : ` ${part.year}`;
  return `${part.weekday} ${part.day} ${part.month}${year} ${part.hour}:${part.minute}`;
}

/** `Thu 11 Mar 06:00 Oslo`: a time always names its zone. */
export function dayTimePlace(t: Instant, zone: string, now: Instant = t): string {
  return `${dayAndTime(t, zone, now)} ${placeOf(zone)}`;
}

/** `11 Mar 06:00`, for columns whose head names the zone; of another year than `now` the date alone, `29 Jul 2026`. */
export function dateTime(t: Instant, zone: string, now: Instant): string {
  const part = parts(t, zone);
  const date = `${part.day} ${part.month}`;
  return part.year === parts(now, zone).year ? `${date} ${part.hour}:${part.minute}` : `${date} ${part.year}`;
}

/** `06:00`, with seconds where asked. */
export function clockTime(t: Instant, zone: string, hasSeconds = false): string {
  const part = parts(t, zone);
  return `${part.hour}:${part.minute}${hasSeconds ? `:${part.second}` : ""}`;
}

type Parts = Readonly<Record<string, string>>;

/** Rows name the same few instants again and again, and asking for one costs as much as drawing its row. */
const known = new Map<string, Parts>();
const KNOWN_MAX = 5_000;

function parts(t: Instant, zone: string): Parts {
  const key = `${t} ${zone}`;
  const answer = known.get(key) ?? partsOf(t, zone);
  if (known.size >= KNOWN_MAX) known.clear();
  known.set(key, answer);
  return answer;
}

function partsOf(t: Instant, zone: string): Parts {
  const made = format(zone, {
    weekday: "short",
    day: "numeric",
    month: "short",
    year: "numeric",
    hour: "2-digit",
    minute: "2-digit",
    second: "2-digit",
  });
  const told: Record<string, string> = Object.fromEntries(made.formatToParts(t * 1000).map(({ type, value }) => [type, value]));
  // Of an hour that comes twice, each says which it is.
  const offset = repeatedOffset(zone, t);
  return offset === null ? told : { ...told, minute: `${told.minute} (${offsetText(offset)})` };
}
