import { type Amount, NO_AMOUNT } from "@/core/pricing";
import { DAY_S, HOUR_S, type Instant } from "@/core/time";
import {
  cache,
  dataVersionKey,
  fullInventory,
  type Pool,
  type Prices,
  priceBooks,
  readDataVersions,
  type SpendHour,
  saveSpendHours,
  spendClosed,
  spendHours,
} from "@/store";
import { livesOfDay, type Snapshot } from "../../inventory";
import { stepSumsOfLives } from "../compute-costs";

type Kept = { key: string; hours: Map<Instant, SpendHour> };

/**
 * What each whole hour of `[from, to)` cost, everything billed included, after and before
 * commitments. Hours of closed days are stored once they are reckoned; those of the open day are
 * kept in memory while nothing they rest on changes.
 */
export async function hoursThatWere(
  pool: Pool,
  { snapshot, from, to }: { snapshot: Snapshot; from: Instant; to: Instant },
): Promise<Map<Instant, SpendHour>> {
  if (from >= to) return new Map();
  // Read first: what is reckoned rests on nothing older.
  const versions = await readDataVersions(pool);
  const { day: closed, epoch } = await spendClosed(pool);
  const closedTo = closed === null ? 0 : Date.parse(closed) / 1000 + DAY_S;
  const known = await spendHours(pool, { from, to });
  const memory = memoryOf(pool, dataVersionKey(versions, ["resources", "versions", "changes", "prices", "spend"]));
  for (const [hour, amount] of memory) if (hour >= from && hour < to) known.set(hour, amount);
  const missing: Instant[] = [];
  for (let hour = from; hour < to; hour += HOUR_S) if (!known.has(hour)) missing.push(hour);
  const [first] = missing;
  if (first === undefined) return known;

  const end = (missing.at(-1) as Instant) + HOUR_S;
  const fresh = await sumsOf(pool, { snapshot, from: first, to: end });
  const readTo = Math.min(...snapshot.accounts.map(({ readAt }) => readAt ?? 0));
  const lasting = new Map<Instant, SpendHour>();
  for (const hour of missing) {
    const amount = fresh.get(hour) ?? { after: NO_AMOUNT, before: NO_AMOUNT };
    known.set(hour, amount);
    if (hour + HOUR_S <= closedTo) lasting.set(hour, amount);
    else if (hour + HOUR_S <= readTo) memory.set(hour, amount);
  }
  if (lasting.size > 0) await saveSpendHours(pool, lasting, epoch);
  return known;
}

/** What a part of an hour, from its beginning up to now, has cost by what is known now. */
export async function hourSoFar(
  pool: Pool,
  { snapshot, prices, from, now }: { snapshot: Snapshot; prices: Prices; from: Instant; now: Instant },
): Promise<Amount> {
  const [resources, lives] = await Promise.all([fullInventory(pool), livesOfDay(pool, Math.floor(from / DAY_S) * DAY_S)]);
  const { capabilities } = snapshot;
  const sums = stepSumsOfLives(lives, { resources, capabilities, prices, from, to: now, knownTo: now, stepS: HOUR_S });
  return sums.get(from) ?? NO_AMOUNT;
}

function memoryOf(pool: Pool, key: string): Map<Instant, SpendHour> {
  const kept = cache<Pool, Kept>("strip hours");
  const known = kept.get(pool);
  if (known?.key === key) return known.hours;
  const hours = new Map<Instant, SpendHour>();
  kept.set(pool, { key, hours });
  return hours;
}

async function sumsOf(
  pool: Pool,
  { snapshot, from, to }: { snapshot: Snapshot; from: Instant; to: Instant },
): Promise<Map<Instant, SpendHour>> {
  const [resources, after, before] = await Promise.all([
    fullInventory(pool),
    priceBooks(pool, "after"),
    priceBooks(pool, "before"),
  ]);
  const { capabilities } = snapshot;
  const sums = new Map<Instant, SpendHour>();
  for (let day = Math.floor(from / DAY_S) * DAY_S; day < to; day += DAY_S) {
    const lives = await livesOfDay(pool, day);
    const span = { from: Math.max(from, day), to: Math.min(to, day + DAY_S) };
    const input = { resources, capabilities, ...span, knownTo: span.to + 1, stepS: HOUR_S };
    const net = stepSumsOfLives(lives, { ...input, prices: after });
    const gross = after.commitments.length === 0 ? net : stepSumsOfLives(lives, { ...input, prices: before });
    for (let hour = span.from; hour < span.to; hour += HOUR_S) {
      const at = Math.floor(hour / HOUR_S) * HOUR_S;
      sums.set(at, { after: net.get(at) ?? (0n as Amount), before: gross.get(at) ?? (0n as Amount) });
    }
  }
  return sums;
}
