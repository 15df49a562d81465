import {
  type Commitment,
  type Discount,
  type MoneyView,
  type PriceHistory,
  type PricePoint,
  type PriceTrack,
  priceHistory,
  trackKey,
  withPoints,
} from "@/core/pricing";
import { cache } from "./caches";
import { type DataVersions, readDataVersions } from "./data-versions";
import type { Db } from "./pool";
import { commitmentList, discountList } from "./prices";
import { ListTooLongError } from "./whole";

export type Prices = Readonly<{
  version: string;
  /** Every price there ever was, each by whom said it. */
  tracks: ReadonlyMap<string, PriceTrack>;
  history: PriceHistory;
  /** What the providers ask, without what a person set and without discounts: what a meter bills. */
  listed: PriceHistory;
  /** The same less discounts. */
  discounted: PriceHistory;
  view: MoneyView;
  /** Those that money is told after; none where it is told before them. */
  commitments: readonly Commitment[];
}>;

type Histories = Pick<Prices, "history" | "listed" | "discounted">;
type Kept = Readonly<{
  horizon: string;
  removals: string;
  discounts: readonly Discount[];
  both: Readonly<Record<MoneyView, Prices>>;
}>;

/** Some ninety bytes each: three years of hourly prices of seventy-five sizes and zones. */
const POINTS_MAX = 2_000_000;

/**
 * Prices over time and the commitments, for money after those or before; kept in memory until any of it changes, and
 * then only what changed is read. Throws a ListTooLongError beyond two million price points.
 */
export async function priceBooks(db: Db, view: MoneyView = "after", versions?: DataVersions): Promise<Prices> {
  const now = versions ?? (await readDataVersions(db));
  const kept = cache<Db, Kept>("prices");
  const known = kept.get(db);
  if (known?.both.after.version === now.prices) return known.both[view];
  const isGoingOn = known !== undefined && known.removals === now["price removals"];
  const before = isGoingOn ? known.both.after.tracks : new Map<string, PriceTrack>();
  const [tracks, commitments, discounts] = await Promise.all([
    isGoingOn ? withChanges(db, before, known.horizon) : allTracks(db),
    commitmentList(db),
    discountList(db),
  ]);
  const isSame = isGoingOn && tracks === before && JSON.stringify(discounts) === JSON.stringify(known.discounts);
  const histories = isSame ? known.both.after : historiesOf(tracks, discounts);
  const { history, listed, discounted } = histories;
  const after: Prices = { version: now.prices, tracks, history, listed, discounted, view: "after", commitments };
  const both = { after, before: { ...after, view: "before", commitments: [] } } as const;
  kept.set(db, { horizon: now.horizon, removals: now["price removals"], discounts, both });
  return both[view];
}

function historiesOf(tracks: ReadonlyMap<string, PriceTrack>, discounts: readonly Discount[]): Histories {
  const told = [...tracks.values()].filter(({ source }) => source === "provider");
  return {
    history: priceHistory(tracks.values(), discounts),
    listed: priceHistory(told),
    discounted: priceHistory(told, discounts),
  };
}

const KEY = "provider, region, item, size, os, purchase, class, zone, source";

type TrackRow = PriceTrack["of"] &
  Readonly<{ source: PriceTrack["source"]; from: number[]; rates: (string | null)[]; cores: number[]; persons: string[] | null }>;

/** A row for each price and whoever said it: grouped by hashing, for a sort of all points takes three times as long. */
async function allTracks(db: Db): Promise<Map<string, PriceTrack>> {
  const { rows } = await db.query<TrackRow>(
    `select ${KEY},
       array_agg(extract(epoch from valid_from)::double precision) as "from",
       array_agg(trim_scale(rate)::text) as rates,
       array_agg(cores_min) as cores,
       case when bool_or(person <> '') then array_agg(person) end as persons
     from (select * from price limit ${POINTS_MAX + 1}) as point
     group by ${KEY}`,
  );
  const tracks = new Map<string, PriceTrack>();
  let count = 0;
  for (const { source, from, rates, cores, persons, ...of } of rows) {
    count += from.length;
    const order = Array.from(from.keys()).sort((a, b) => (from[a] as number) - (from[b] as number));
    const track: PriceTrack = {
      of,
      source,
      from: Float64Array.from(order, (i) => from[i] as number),
      rates: order.map((i) => rates[i] ?? null),
      coresMin: order.map((i) => cores[i] ?? 0),
      persons: persons ? order.map((i) => persons[i] ?? "") : [],
    };
    tracks.set(trackKey(track), track);
  }
  if (count > POINTS_MAX) throw new ListTooLongError("price points", POINTS_MAX);
  return tracks;
}

/** The same object where nothing of it changed. */
async function withChanges(
  db: Db,
  tracks: ReadonlyMap<string, PriceTrack>,
  horizon: string,
): Promise<ReadonlyMap<string, PriceTrack>> {
  const { rows } = await db.query<PricePoint>(
    `select ${KEY}, trim_scale(rate)::text as rate, cores_min as "coresMin", valid_from as "validFrom", person
     from price
     where changed_in >= $1::text::xid8
     limit ${POINTS_MAX + 1}`,
    [horizon],
  );
  if (rows.length === 0) return tracks;
  const all = withPoints(tracks, rows);
  let count = 0;
  for (const { from } of all.values()) count += from.length;
  if (count > POINTS_MAX) throw new ListTooLongError("price points", POINTS_MAX);
  return all;
}
