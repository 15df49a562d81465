import { type Amount, addAmounts, NO_AMOUNT } from "@/core/pricing";
import { DAY_S, type Instant, utcDate } from "@/core/time";
import { closedDay, fullInventory, livesOf, type Pool, type Prices, resourceStamp, spendOfDays } from "@/store";
import { livesOfDay, type StoredWorld } from "../../inventory";
import { dayTotals, totalsOfLives } from "../reckon";

/** What everything cost from the start of the UTC month up to `at`, by resource; commitments' fees by their key. */
export type MonthSoFar = Readonly<{ at: Instant; of: (id: string) => Amount }>;

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

type Kept = Readonly<{ key: string; month: MonthSoFar }>;
const kept = new WeakMap<Pool, Kept>();
const keptPast = new WeakMap<Pool, Kept>();
/** Between two readings of the clouds the rate of what runs is known, so the rest is reckoned from it. */
const KEEP_S = 600;

/**
 * The closed days of the month are stored; what came after the last of them is reckoned from what
 * happened. Kept until a resource, a price or a closed day changes: going on from `at` is up to the
 * caller, who knows the rates.
 */
export async function monthSoFar(
  pool: Pool,
  { world, prices, at, isNow }: { world: StoredWorld; prices: Prices; at: Instant; isNow: boolean },
): Promise<MonthSoFar> {
  const [stamp, closed] = await Promise.all([resourceStamp(pool), closedDay(pool)]);
  const start = startOfMonth(at);
  const known = (isNow ? kept : keptPast).get(pool);
  const cursors = world.accounts.map(({ eventCursor }) => eventCursor).join(" ");
  const key = `${stamp} ${cursors} ${prices.stamp} ${closed} ${start}`;
  // Another instant than now is asked for page by page: its answer is kept for just itself.
  const isKept = isNow ? at >= (known?.month.at ?? at) && at - (known?.month.at ?? at) < KEEP_S : known?.month.at === at;
  if (known?.key === key && isKept) return known.month;
  const month = await reckoned(pool, { world, prices, at, start, closed });
  (isNow ? kept : keptPast).set(pool, { key, month });
  return month;
}

type Reading = Readonly<{ world: StoredWorld; prices: Prices; at: Instant; start: Instant; closed: string | null }>;

async function reckoned(pool: Pool, { world, prices, at, start, closed }: Reading): Promise<MonthSoFar> {
  const lastWhole = utcDate(Math.floor(at / DAY_S) * DAY_S - 1);
  const through = closed === null ? null : closed < lastWhole ? closed : lastWhole;
  const openFrom = through === null || through < utcDate(start) ? start : Date.parse(through) / 1000 + DAY_S;
  const [stored, resources] = await Promise.all([
    openFrom > start ? storedUpTo(pool, { start, openFrom, key: `${prices.stamp} ${closed}` }) : new Map<string, Amount>(),
    fullInventory(pool),
  ]);
  if (openFrom >= at) return { at, of: (id) => stored.get(id) ?? NO_AMOUNT };
  const { capabilities, accounts } = world;
  const input = { resources, capabilities, prices };
  const sums: ReadonlyMap<string, Amount>[] = [stored];
  const today = Math.floor(at / DAY_S) * DAY_S;
  if (openFrom < today) {
    // Days that are over and not closed yet. One second beyond tells what ended at midnight from what went on.
    const lives = await livesOf(pool, null, { from: openFrom, to: today + 1 });
    sums.push(totalsOfLives(lives, { ...input, from: openFrom, to: today, knownTo: Math.min(at, today + 1) }));
  }
  if (today < at) sums.push(dayTotals(await livesOfDay(pool, accounts, today), { ...input, from: today, to: at }));
  return { at, of: (id) => sums.reduce((sum, part) => addAmounts(sum, part.get(id) ?? NO_AMOUNT), NO_AMOUNT) };
}

type Stored = Readonly<{ key: string; spend: ReadonlyMap<string, Amount> }>;
const keptStored = new WeakMap<Pool, Stored>();

/** Sums of closed days; what moves within a day asks for the same again and again. */
async function storedUpTo(
  pool: Pool,
  { start, openFrom, key: under }: { start: Instant; openFrom: Instant; key: string },
): Promise<ReadonlyMap<string, Amount>> {
  const key = `${under} ${start} ${openFrom}`;
  const known = keptStored.get(pool);
  if (known?.key === key) return known.spend;
  const spend = await spendOfDays(pool, { from: utcDate(start), to: utcDate(openFrom - 1) });
  keptStored.set(pool, { key, spend });
  return spend;
}
