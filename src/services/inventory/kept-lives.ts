import { DAY_S, type Instant } from "@/core/time";
import { cache, type DataVersions, type Lives, livesOf, newsSince, type Pool, readDataVersions, tagged } from "@/store";

type Kept = { version: string; horizon: string; days: Map<Instant, Lives>; turn: Promise<unknown> };
/** Today, yesterday and two more that somebody looks at. */
const DAYS_MAX = 4;

/** One second beyond a day tells what ended at midnight from what went on. */
const LENGTH_S = DAY_S + 1;

/**
 * The lives of everything over the UTC day that begins at `day`, up to a second beyond its end
 * whatever the clock says. Days are kept in memory; what was told since the last look, by a feed or
 * by a listing, is read for the resources it is about.
 */
export function livesOfDay(pool: Pool, day: Instant): Promise<Lives> {
  const kept = cache<Pool, Kept>("lives");
  const memory = kept.get(pool) ?? { version: "", horizon: "0", days: new Map(), turn: Promise.resolve() };
  kept.set(pool, memory);
  // One reads at a time: another that asks for the same day finds it.
  const own = memory.turn.then(async () => {
    await readNews(pool, memory, await readDataVersions(pool));
    const known = memory.days.get(day) ?? (await livesRead(pool, null, { day, version: memory.version }));
    memory.days.delete(day);
    memory.days.set(day, known);
    const [oldest] = memory.days.keys();
    if (memory.days.size > DAYS_MAX && oldest !== undefined) memory.days.delete(oldest);
    return known;
  });
  memory.turn = own.catch(() => {});
  return own;
}

/** Lives that say as of when they were read: meters are kept beside each. */
async function livesRead(
  pool: Pool,
  ids: readonly string[] | null,
  { day, version }: Readonly<{ day: Instant; version: string }>,
): Promise<Lives> {
  const lives = await livesOf(pool, ids, { from: day, to: day + LENGTH_S });
  for (const life of lives.values()) tagged(life, `${day} ${version}`);
  return lives;
}

async function readNews(pool: Pool, memory: Kept, versions: DataVersions): Promise<void> {
  if (memory.version === versions.changes) return;
  const news = memory.days.size > 0 ? await newsSince(pool, memory.horizon) : new Map<string, Instant>();
  for (const [day, lives] of memory.days) {
    const to = day + LENGTH_S;
    const ids = [...news].flatMap(([id, at]) => (at < to ? [id] : []));
    if (ids.length === 0) continue;
    const fresh = await livesRead(pool, ids, { day, version: versions.changes });
    // Whoever looks at the old ones keeps them whole.
    memory.days.set(day, new Map([...lives, ...fresh]));
  }
  memory.version = versions.changes;
  memory.horizon = versions.horizon;
}
