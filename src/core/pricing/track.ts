import type { Instant } from "../time";
import { exactKey, type Price } from "./book";

/** What a price is of. */
export type Priced = Readonly<Omit<Price, "rate" | "coresMin"> & { provider: string }>;

export type PriceSource = "provider" | "hand";

/** A price from an instant on. Without a rate it ends an override; what a person set goes before what the provider says. */
export type PricePoint = Priced &
  Readonly<{ rate: string | null; coresMin: number; validFrom: Instant; source: PriceSource; person: string }>;

/** What one source told of one price, oldest first and one at an instant; column by column, for there may be years of hours. */
export type PriceTrack = Readonly<{
  of: Priced;
  source: PriceSource;
  from: Float64Array;
  rates: readonly (string | null)[];
  coresMin: readonly number[];
  /** Who set each; empty where nobody did. */
  persons: readonly string[];
}>;

export function trackKey({ of, source }: Pick<PriceTrack, "of" | "source">): string {
  return `${exactKey(of)}\n${source}`;
}

/** The place of the last of some instants, in order, that is not after another; -1 before the first. */
export function lastOf(instants: Float64Array, t: Instant): number {
  let low = 0;
  let high = instants.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((instants[middle] as number) <= t) low = middle + 1;
    else high = middle;
  }
  return low - 1;
}

/** What stands at a place of a track. */
export function pointOf({ of, source, from, rates, coresMin, persons }: PriceTrack, i: number): PricePoint {
  return {
    ...of,
    source,
    rate: rates[i] ?? null,
    coresMin: coresMin[i] ?? 0,
    validFrom: from[i] as number,
    person: persons[i] ?? "",
  };
}

/** Tracks with some points more, in any order: one at an instant that is there already takes its place. */
export function withPoints(tracks: ReadonlyMap<string, PriceTrack>, points: readonly PricePoint[]): Map<string, PriceTrack> {
  const news = new Map<string, PricePoint[]>();
  for (const point of points) {
    const key = trackKey({ of: point, source: point.source });
    const known = news.get(key);
    if (known) known.push(point);
    else news.set(key, [point]);
  }
  const all = new Map(tracks);
  for (const [key, fresh] of news) all.set(key, merged(tracks.get(key), fresh));
  return all;
}

/** Column by column, in one pass: a track of years gets a point more every hour. */
function merged(track: PriceTrack | undefined, fresh: readonly PricePoint[]): PriceTrack {
  const said = new Map(fresh.map((point) => [point.validFrom, point]));
  const news = [...said.values()].sort((a, b) => a.validFrom - b.validFrom);
  const [first] = news as [PricePoint];
  const { from: was, rates, coresMin, persons } = track ?? NOTHING_SAID;
  const all = { from: [] as number[], rates: [] as (string | null)[], coresMin: [] as number[], persons: [] as string[] };
  let next = 0;
  const put = (point: Pick<PricePoint, "validFrom" | "rate" | "coresMin" | "person">) => {
    all.from.push(point.validFrom);
    all.rates.push(point.rate);
    all.coresMin.push(point.coresMin);
    all.persons.push(point.person);
  };
  for (let i = 0; i < was.length; i++) {
    const t = was[i] as number;
    for (; next < news.length && (news[next] as PricePoint).validFrom < t; next++) put(news[next] as PricePoint);
    if (said.has(t)) continue;
    all.from.push(t);
    all.rates.push(rates[i] ?? null);
    all.coresMin.push(coresMin[i] ?? 0);
    all.persons.push(persons[i] ?? "");
  }
  for (; next < news.length; next++) put(news[next] as PricePoint);
  const { provider, region, item, size, os, purchase, class: diskClass, zone, source } = first;
  const of = track?.of ?? { provider, region, item, size, os, purchase, class: diskClass, zone };
  const isNamed = all.persons.some((person) => person !== "");
  return { ...all, of, source, from: Float64Array.from(all.from), persons: isNamed ? all.persons : [] };
}

const NOTHING_SAID: Pick<PriceTrack, "from" | "rates" | "coresMin" | "persons"> = {
  from: new Float64Array(),
  rates: [],
  coresMin: [],
  persons: [],
};
