import { type Amount, addAmounts, type MoneyView, NO_AMOUNT } from "@/core/pricing";
import { DAY_S, type Instant, MINUTE_S, utcDate } from "@/core/time";
import {
  cache,
  type DataVersions,
  dataVersionKey,
  fullInventory,
  livesOf,
  overridesBetween,
  overridesKnownAt,
  type Pool,
  type Prices,
  priceBooks,
  readDataVersions,
  spendClosed,
  spendOfDays,
} from "@/store";
import { livesOfDay, type Snapshot, type SnapshotAt } from "../../inventory";
import { costsAhead } from "../ahead";
import { dayTotals, totalsOfLives } from "../compute-costs";

/** What things cost over a time, by resource; commitments' fees by their key. */
export type Costs = Readonly<{ of: (id: string) => Amount; ids: () => Iterable<string> }>;

/** What everything cost from the start of the UTC month up to `at`, whether it runs, is off or gone. */
export type MonthSoFar = Costs & Readonly<{ at: Instant }>;

/** The first instant of the month, UTC. */
export function startOfMonth(t: Instant): Instant {
  const date = new Date(t * 1000);
  return Date.UTC(date.getUTCFullYear(), date.getUTCMonth(), 1) / 1000;
}

/** The first instant of the next month, UTC. */
export function endOfMonth(t: Instant): Instant {
  const date = new Date(t * 1000);
  return Date.UTC(date.getUTCFullYear(), date.getUTCMonth() + 1, 1) / 1000;
}

type Kept<T> = Map<string, Readonly<{ key: string; value: T }>>;
/** Between two readings of the clouds the rate of what runs is known, so the rest is reckoned from it. */
const KEEP_S = 600;

export type MonthInput = Readonly<{ snapshot: Snapshot; view: MoneyView; at: Instant; isNow: boolean }>;

/**
 * The closed days of the month are stored; what came after the last of them is reckoned from what
 * happened. Kept until a resource, a state, a price or a closed day changes: going on from `at` is up
 * to the caller, who knows the rates.
 */
export async function monthSoFar(pool: Pool, { snapshot, view, at, isNow }: MonthInput): Promise<MonthSoFar> {
  // Read first: what is reckoned rests on nothing older.
  const versions = await readDataVersions(pool);
  const start = startOfMonth(at);
  const kept = keptOf<MonthSoFar>(pool, "month so far");
  const slot = `${isNow} ${view}`;
  const known = kept.get(slot);
  const key = `${dataVersionKey(versions, ["resources", "versions", "changes", "prices", "spend"])} ${start}`;
  const then = known?.value.at ?? at;
  // Another instant than now is asked for page by page: its answer is kept for just itself.
  const isKept = isNow ? at >= then && at - then < KEEP_S : then === at;
  if (known?.key === key && isKept) return known.value;
  const month = await computeMonth(pool, { snapshot, view, at, start, versions });
  kept.set(slot, { key, value: month });
  return month;
}

function keptOf<T>(pool: Pool, name: "month so far" | "month stored" | "month ahead"): Kept<T> {
  const caches = cache<Pool, Kept<T>>(name);
  const kept = caches.get(pool) ?? new Map();
  caches.set(pool, kept);
  return kept;
}

type Reading = Readonly<{ snapshot: Snapshot; view: MoneyView; at: Instant; start: Instant; versions: DataVersions }>;

async function computeMonth(pool: Pool, { snapshot, view, at, start, versions }: Reading): Promise<MonthSoFar> {
  const { day: closed } = await spendClosed(pool);
  const lastWhole = utcDate(Math.floor(at / DAY_S) * DAY_S - 1);
  // biome-ignore lint/complexity/useMathMinMax: these are dates as text
  const through = closed === null ? null : closed < lastWhole ? closed : lastWhole;
  const openFrom = through === null || through < utcDate(start) ? start : Date.parse(through) / 1000 + DAY_S;
  const [stored, resources, prices] = await Promise.all([
    openFrom > start
      ? storedUpTo(pool, { start, openFrom, view, key: `${closed} ${dataVersionKey(versions, ["spend"])}` })
      : new Map<string, Amount>(),
    fullInventory(pool),
    priceBooks(pool, view, versions),
  ]);
  const sums: ReadonlyMap<string, Amount>[] = [stored];
  const input = { resources, capabilities: snapshot.capabilities, prices };
  const today = Math.floor(at / DAY_S) * DAY_S;
  if (openFrom < today) {
    // Days that are over and not closed yet. One second beyond tells what ended at midnight from what went on.
    const lives = await livesOf(pool, null, { from: openFrom, to: today + 1 });
    sums.push(totalsOfLives(lives, { ...input, from: openFrom, to: today, knownTo: Math.min(at, today + 1) }));
  }
  if (today < at && openFrom < at) sums.push(dayTotals(await livesOfDay(pool, today), { ...input, from: today, to: at }));
  return { at, ...summed(sums) };
}

function summed(sums: readonly ReadonlyMap<string, Amount>[]): Costs {
  return {
    of: (id) => sums.reduce((sum, part) => addAmounts(sum, part.get(id) ?? NO_AMOUNT), NO_AMOUNT),
    *ids() {
      for (const part of sums) yield* part.keys();
    },
  };
}

type Storing = Readonly<{ key: string; start: Instant; openFrom: Instant; view: MoneyView }>;

/** Sums of closed days; what moves within a day asks for the same again and again. */
async function storedUpTo(pool: Pool, { key: under, start, openFrom, view }: Storing): Promise<ReadonlyMap<string, Amount>> {
  const kept = keptOf<ReadonlyMap<string, Amount>>(pool, "month stored");
  const key = `${under} ${start} ${openFrom}`;
  const known = kept.get(view);
  if (known?.key === key) return known.value;
  const spend = await spendOfDays(pool, { from: utcDate(start), to: utcDate(openFrom - 1), view });
  kept.set(view, { key, value: spend });
  return spend;
}

/** What is to come, from `at` on. */
export type MonthToCome = Costs & Readonly<{ at: Instant }>;

/**
 * What everything will cost from `at` to the end of the UTC month if the plans that count at `at` are
 * kept and all else stays as it is then; of what is off and of loose disks too.
 */
export async function restOfMonth(
  pool: Pool,
  { snapshot, prices }: { snapshot: SnapshotAt; prices: Prices },
): Promise<MonthToCome> {
  const { at } = snapshot;
  const to = endOfMonth(at);
  const versions = await readDataVersions(pool);
  const kept = keptOf<MonthToCome>(pool, "month ahead");
  const slot = `${snapshot.tense} ${prices.view}`;
  const learned = Math.max(0, ...[...snapshot.likely.values()].map(({ learnedAt }) => learnedAt));
  const key = `${dataVersionKey(versions, ["resources", "versions", "changes", "plans", "prices", "holds"])} ${to} ${learned}`;
  const known = kept.get(slot);
  const age = at - (known?.value.at ?? 0);
  // From one look to the next it is what it was at the one before: the caller goes on from its `at`.
  if (known?.key === key && (snapshot.tense === "now" ? age >= 0 && age < MINUTE_S : age === 0)) return known.value;
  // Of a past instant it is told as it was known then: what somebody held later was not.
  const holds = snapshot.tense === "past" ? await overridesKnownAt(pool, at) : await overridesBetween(pool, { from: at, to });
  const costs = costsAhead({ snapshot, prices, holds, now: at, window: { from: at, to } });
  const value: MonthToCome = { at, of: (id) => costs.get(id) ?? NO_AMOUNT, ids: () => costs.keys() };
  kept.set(slot, { key, value });
  return value;
}
