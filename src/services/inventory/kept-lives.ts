import { DAY_S, type Instant } from "@/core/time";
import { type Account, type Lives, livesOf, newsAfter, type Pool } from "@/store";

type Kept = { cursors: Map<string, number>; days: Map<Instant, Lives>; turn: Promise<unknown> };
const kept = new WeakMap<Pool, Kept>();
/** Today, yesterday and two more that somebody looks at. */
const DAYS_MAX = 4;

/** One second beyond a day tells what ended at midnight from what went on. */
const LENGTH_S = DAY_S + 1;

/**
 * The lives of everything over the UTC day that begins at `day`, up to a second beyond its end
 * whatever the clock says. Days are kept in memory; what the feed told since the last look is read
 * for the resources it is about.
 */
export function livesOfDay(pool: Pool, accounts: readonly Account[], day: Instant): Promise<Lives> {
  const memory = kept.get(pool) ?? { cursors: new Map(), days: new Map(), turn: Promise.resolve() };
  kept.set(pool, memory);
  // One reads at a time: another that asks for the same day finds it.
  const own = memory.turn.then(async () => {
    await readNews(pool, memory, accounts);
    const known = memory.days.get(day) ?? (await livesOf(pool, null, { from: day, to: day + LENGTH_S }));
    memory.days.delete(day);
    memory.days.set(day, known);
    const [oldest] = memory.days.keys();
    if (memory.days.size > DAYS_MAX && oldest !== undefined) memory.days.delete(oldest);
    return known;
  });
  memory.turn = own.catch(() => {});
  return own;
}

async function readNews(pool: Pool, memory: Kept, accounts: readonly Account[]): Promise<void> {
  const { cursors, days } = memory;
  const moved = accounts.filter(({ name, eventCursor }) => eventCursor > (cursors.get(name) ?? -1));
  if (moved.length === 0) return;
  if (days.size > 0) {
    const news = await newsAfter(pool, new Map(moved.map(({ name }) => [name, cursors.get(name) ?? -1])));
    for (const [day, lives] of days) {
      const to = day + LENGTH_S;
      const ids = [...news].flatMap(([id, at]) => (at < to ? [id] : []));
      if (ids.length === 0) continue;
      const fresh = await livesOf(pool, ids, { from: day, to });
      // Whoever looks at the old ones keeps them whole.
      days.set(day, new Map([...lives, ...fresh]));
    }
  }
  for (const { name, eventCursor } of moved) cursors.set(name, eventCursor);
}
