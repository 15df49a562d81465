import { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import { from as copyFrom } from "pg-copy-streams";
import { copyText } from "./copy-text";
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
