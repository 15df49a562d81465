import { DAY_S, type Instant, utcDate } from "@/core/time";
import { cache } from "./caches";
import type { Pool } from "./pool";
import { inTransaction } from "./transaction";

/** A drop waits for whoever reads, and all others behind it: where somebody reads for long it is left for the next time. */
const DROP_WAITS_MS = 2_000;
const LOCK_NOT_HAD = "55P03";

/** The UTC day that a sample at the end of its slot belongs to: a day ends with its midnight. */
export function dayOfSample(at: Instant): string {
  return utcDate(Math.ceil(at / DAY_S) * DAY_S - 1);
}

/** Makes the partitions of samples of some UTC days that are missing. Attached, they wait for nobody who reads. */
export async function ensureRecentDays(pool: Pool, days: ReadonlySet<string>): Promise<void> {
  const caches = cache<Pool, Set<string>>("recent days");
  const known = caches.get(pool) ?? new Set();
  caches.set(pool, known);
  const missing = [...days].filter((day) => !known.has(day)).sort();
  if (missing.length === 0) return;
  await inTransaction(pool, async (tx) => {
    await tx.query("select pg_advisory_xact_lock(hashtext('partitions of metric_recent'))");
    for (const day of missing) {
      const name = partitionOf(day);
      const { rows } = await tx.query("select to_regclass($1::text) is not null as is", [name]);
      if (rows[0]?.is) continue;
      const next = utcDate(Date.parse(day) / 1000 + DAY_S);
      await tx.query(`create table ${name} (like metric_recent including all)`);
      await tx.query(
        `alter table metric_recent attach partition ${name} for values from ('${start(day)}') to ('${start(next)}')`,
      );
    }
  });
  for (const day of missing) known.add(day);
}

/** Somebody dropped a day that was known: they are looked for anew. */
export function forgetRecentDays(pool: Pool): void {
  cache<Pool, Set<string>>("recent days").delete(pool);
}

/** The UTC days that there are partitions of samples for, oldest first. */
export async function recentDays(pool: Pool): Promise<string[]> {
  const { rows } = await pool.query<{ name: string }>(
    `select c.relname as name
     from pg_inherits i
     join pg_class c on c.oid = i.inhrelid
     where i.inhparent = 'metric_recent'::regclass
     order by c.relname
     limit 10000`,
  );
  return rows.map(({ name }) => name.slice("metric_recent_".length).replaceAll("_", "-"));
}

/** Drops a UTC day of samples. False where somebody reads for so long that others would wait. */
export async function dangerouslyDropRecentDay(pool: Pool, day: string): Promise<boolean> {
  const name = partitionOf(day);
  try {
    await inTransaction(pool, async (tx) => {
      await tx.query(`set local lock_timeout = ${DROP_WAITS_MS}`);
      await tx.query(`drop table if exists ${name}`);
    });
  } catch (error) {
    if ((error as { code?: string }).code !== LOCK_NOT_HAD) throw error;
    return false;
  }
  forgetRecentDays(pool);
  return true;
}

function partitionOf(day: string): string {
  if (!/^\d{4}-\d\d-\d\d$/.test(day)) throw new Error(`day ${day}`);
  return `metric_recent_${day.replaceAll("-", "_")}`;
}

/** The first instant after a day's first midnight, as the database keeps instants. */
function start(day: string): string {
  return `${day} 00:00:00.000001+00`;
}
