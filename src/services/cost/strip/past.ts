import { type Amount, NO_AMOUNT } from "@/core/pricing";
import { DAY_S, HOUR_S, type Instant } from "@/core/time";
import { closedDay, fullInventory, type Pool, type Prices, saveSpendHours, spendHours } from "@/store";
import { livesOfDay, type StoredWorld } from "../../inventory";
import { stepSumsOfLives } from "../reckon";

type Kept = { key: string; hours: Map<Instant, Amount> };
const kept = new WeakMap<Pool, Kept>();

/**
 * What each whole hour of `[from, to)` cost, everything billed included, net of commitments. Hours
 * of closed days are stored once they are reckoned; those of the open day are kept in memory when
 * every account was read after their end.
 */
export async function hoursThatWere(
  pool: Pool,
  { world, prices, from, to }: { world: StoredWorld; prices: Prices; from: Instant; to: Instant },
): Promise<Map<Instant, Amount>> {
  if (from >= to) return new Map();
  const closed = await closedDay(pool);
  const closedTo = closed === null ? 0 : Date.parse(closed) / 1000 + DAY_S;
  const known = await spendHours(pool, { from, to });
  const memory = memoryOf(pool, `${prices.stamp} ${closed}`);
  for (const [hour, amount] of memory) if (hour >= from && hour < to) known.set(hour, amount);
  const missing: Instant[] = [];
  for (let hour = from; hour < to; hour += HOUR_S) if (!known.has(hour)) missing.push(hour);
  const [first] = missing;
  if (first === undefined) return known;

  const end = (missing.at(-1) as Instant) + HOUR_S;
  const fresh = await sumsOf(pool, { world, prices, from: first, to: end });
  const readTo = Math.min(...world.accounts.map(({ readAt }) => readAt ?? 0));
  const lasting = new Map<Instant, Amount>();
  for (const hour of missing) {
    const amount = fresh.get(hour) ?? NO_AMOUNT;
    known.set(hour, amount);
    if (hour + HOUR_S <= closedTo) lasting.set(hour, amount);
    else if (hour + HOUR_S <= readTo) memory.set(hour, amount);
  }
  if (lasting.size > 0) await saveSpendHours(pool, lasting);
  return known;
}

function memoryOf(pool: Pool, key: string): Map<Instant, Amount> {
  const known = kept.get(pool);
  if (known?.key === key) return known.hours;
  const hours = new Map<Instant, Amount>();
  kept.set(pool, { key, hours });
  return hours;
}

async function sumsOf(
  pool: Pool,
  { world, prices, from, to }: { world: StoredWorld; prices: Prices; from: Instant; to: Instant },
): Promise<Map<Instant, Amount>> {
  const resources = await fullInventory(pool);
  const { capabilities, accounts } = world;
  const sums = new Map<Instant, Amount>();
  for (let day = Math.floor(from / DAY_S) * DAY_S; day < to; day += DAY_S) {
    const lives = await livesOfDay(pool, accounts, day);
    const span = { from: Math.max(from, day), to: Math.min(to, day + DAY_S) };
    const own = stepSumsOfLives(lives, { resources, capabilities, prices, ...span, knownTo: span.to + 1, stepS: HOUR_S });
    for (const [hour, amount] of own) sums.set(hour, amount);
  }
  return sums;
}
