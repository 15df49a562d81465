import { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import { from as copyFrom } from "pg-copy-streams";
import type { Usual } from "@/core/idle";
import { copyText } from "./copy-text";
import { nameMetrics } from "./metric-names";
import { ensureMonths } from "./partitions";
import type { Pool } from "./pool";
import { inTransaction } from "./transaction";
import { whole } from "./whole";

/** One UTC day (`YYYY-MM-DD`) of one metric of one resource; null where a sample is missing. */
export type MetricDay = Readonly<{
  resourceId: string;
  metric: string;
  day: string;
  stepS: number;
  samples: readonly (number | null)[];
}>;

/** Stores day arrays with COPY; a day that is stored again replaces the older reading. */
export async function saveMetricDays(pool: Pool, days: readonly MetricDay[]): Promise<void> {
  if (days.length === 0) return;
  await ensureMonths(
    pool,
    "metric_day",
    days.map(({ day }) => day.slice(0, 7)),
  );
  await inTransaction(pool, async (tx) => {
    await tx.query("create temporary table incoming (like metric_day) on commit drop");
    await nameMetrics(tx, new Map(days.map(({ metric, day }) => [metric, Date.parse(`${day}T00:00:00Z`) / 1000])));
    const lines = Readable.from(days.map(copyLine));
    await pipeline(lines, tx.query(copyFrom("copy incoming (resource_id, metric, day, step_s, samples) from stdin")));
    await tx.query(
      `insert into metric_day (resource_id, metric, day, step_s, samples)
       select resource_id, metric, day, step_s, samples
       from incoming
       on conflict (resource_id, metric, day) do update set step_s = excluded.step_s, samples = excluded.samples`,
    );
  });
}

function copyLine({ resourceId, metric, day, stepS, samples }: MetricDay): string {
  const array = samples.map((sample) => (sample === null ? "NULL" : String(sample))).join(",");
  return `${copyText(resourceId)}\t${copyText(metric)}\t${day}\t${stepS}\t{${array}}\n`;
}

/** The UTC days already stored whole for every metric, oldest first. */
export async function metricDaysStored(pool: Pool, account: string): Promise<string[]> {
  const { rows } = await pool.query<{ day: string }>(
    `select distinct m.day
     from metric_day m
     join resource r on r.id = m.resource_id
     where r.account = $1::text
     order by m.day
     limit 4001`,
    [account],
  );
  whole(rows, { most: 4_000, what: "days of metrics" });
  return rows.map(({ day }) => day);
}

/** A metric of some resources over days `[from, to]`, by resource and day. */
export async function metricDays(
  pool: Pool,
  { ids, metric, from, to }: { ids: readonly string[]; metric: string; from: string; to: string },
): Promise<MetricDay[]> {
  const { rows } = await pool.query<MetricDay>(
    `select resource_id as "resourceId", metric, day, step_s as "stepS", samples
     from metric_day
     where resource_id = any ($1::text[]) and metric = $2::text and day between $3::date and $4::date
     order by resource_id, day
     limit 100000`,
    [ids, metric, from, to],
  );
  return rows;
}

/** Days of a metric as PostgreSQL sends arrays: decoded by `readSamples` without a text in between. */
export async function metricDaysRaw(
  pool: Pool,
  { ids, metric, from, to }: { ids: readonly string[]; metric: string; from: string; to: string },
): Promise<Readonly<{ resourceId: string; day: string; stepS: number; samples: Buffer }>[]> {
  const { rows } = await pool.query<{ resourceId: string; day: string; stepS: number; samples: Buffer }>(
    `select resource_id as "resourceId", day, step_s as "stepS", array_send(samples) as samples
     from metric_day
     where resource_id = any ($1::text[]) and metric = $2::text and day between $3::date and $4::date
     limit 1000001`,
    [ids, metric, from, to],
  );
  return whole(rows, { most: 1_000_000, what: "days of a metric" });
}

const ARRAY_HEAD = 20;
const REAL_BYTES = 4;

/**
 * Puts the elements of a `real[]`, as `array_send` gives it (PostgreSQL, src/include/utils/array.h), into `target`
 * from an index on; nulls and what lies outside are passed over.
 */
export function readSamples(raw: Buffer, target: Float32Array, from: number): void {
  if (raw.length < ARRAY_HEAD) return;
  const count = raw.readInt32BE(12);
  let at = ARRAY_HEAD;
  for (let i = 0; i < count; i++) {
    const size = raw.readInt32BE(at);
    at += 4;
    if (size !== REAL_BYTES) continue;
    const slot = from + i;
    if (slot >= 0 && slot < target.length) target[slot] = raw.readFloatBE(at);
    at += REAL_BYTES;
  }
}

/** What each of some metrics of each of some resources usually is, over UTC days `[from, to]`; by resource, then metric. */
export async function usualOf(
  pool: Pool,
  { ids, metrics, from, to }: { ids: readonly string[]; metrics: readonly string[]; from: string; to: string },
): Promise<Map<string, Map<string, Usual>>> {
  const { rows } = await pool.query<Usual & { resourceId: string; metric: string }>(
    `select resource_id as "resourceId", metric, count(*)::integer as days,
       percentile_cont(0.5) within group (order by low) as low, percentile_cont(0.5) within group (order by high) as high
     from (
       select m.resource_id, m.metric, min(s.value) as low, max(s.value) as high
       from metric_day m, unnest(m.samples) as s (value)
       where m.resource_id = any ($1::text[]) and m.metric = any ($2::text[]) and m.day between $3::date and $4::date
       group by m.resource_id, m.metric, m.day
     ) as of_day
     where low is not null
     group by resource_id, metric`,
    [ids, metrics, from, to],
  );
  const byResource = new Map<string, Map<string, Usual>>();
  for (const { resourceId, metric, ...usual } of rows) {
    const own = byResource.get(resourceId) ?? new Map<string, Usual>();
    byResource.set(resourceId, own.set(metric, usual));
  }
  return byResource;
}

/** Whether any of some resources ever told of any, and of some, metrics since a UTC day. */
export async function everTold(
  pool: Pool,
  { ids, metrics, from }: { ids: readonly string[]; metrics: readonly string[]; from: string },
): Promise<{ any: boolean; these: boolean }> {
  const { rows } = await pool.query<{ any: boolean; these: boolean }>(
    `select count(*) > 0 as any, coalesce(bool_or(metric = any ($2::text[])), false) as these
     from metric_day where resource_id = any ($1::text[]) and day >= $3::date`,
    [ids, metrics, from],
  );
  return rows[0] ?? { any: false, these: false };
}
