import { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import { from as copyFrom } from "pg-copy-streams";
import type { Usual } from "@/core/idle";
import type { Instant } from "@/core/time";
import { BinaryRows, instantField, integerField, textField } from "./copy-binary";
import { copyText } from "./copy-text";
import { ensureMonths } from "./partitions";
import type { Db, Pool } from "./pool";
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

/** A sample of late, at the end of its slot. */
export type RecentSample = Readonly<{ resourceId: string; metric: string; at: Instant; stepS: number; value: number }>;

/** Stores samples with COPY, in whatever order and however often they come; the last one told of a slot counts. */
export async function saveRecent(pool: Pool, samples: readonly RecentSample[]): Promise<void> {
  if (samples.length === 0) return;
  const metrics = new Map<string, Instant>();
  for (const { metric, at } of samples) if (at > (metrics.get(metric) ?? 0)) metrics.set(metric, at);
  await inTransaction(pool, async (tx) => {
    await nameMetrics(tx, metrics);
    // Mostly all of it is new: it goes where it belongs at once. What is told again, or twice, goes by way of a table beside.
    await tx.query("savepoint straight");
    try {
      await pipeline(Readable.from(copyRows(samples)), tx.query(copyFrom(`copy metric_recent ${COLUMNS} ${BINARY}`)));
      return;
    } catch (error) {
      if ((error as { code?: string }).code !== UNIQUE_VIOLATION) throw error;
      await tx.query("rollback to savepoint straight");
    }
    await tx.query("create temporary table incoming (like metric_recent) on commit drop");
    await pipeline(Readable.from(copyRows(lastOfEach(samples))), tx.query(copyFrom(`copy incoming ${COLUMNS} ${BINARY}`)));
    await tx.query(
      `insert into metric_recent ${COLUMNS}
       select resource_id, metric, at, step_s, value
       from incoming
       on conflict (resource_id, metric, at) do update set step_s = excluded.step_s, value = excluded.value
       where metric_recent.value <> excluded.value`,
    );
  });
}

const COLUMNS = "(resource_id, metric, at, step_s, value)";
const BINARY = "from stdin (format binary)";
const UNIQUE_VIOLATION = "23505";

/** Of several samples of one slot the last. */
function lastOfEach(samples: readonly RecentSample[]): RecentSample[] {
  const bySeries = new Map<string, Map<string, Map<Instant, RecentSample>>>();
  for (const sample of samples) {
    const byMetric = bySeries.get(sample.resourceId) ?? new Map<string, Map<Instant, RecentSample>>();
    bySeries.set(sample.resourceId, byMetric);
    const bySlot = byMetric.get(sample.metric) ?? new Map<Instant, RecentSample>();
    byMetric.set(sample.metric, bySlot);
    bySlot.set(sample.at, sample);
  }
  return [...bySeries.values()].flatMap((byMetric) => [...byMetric.values()].flatMap((bySlot) => [...bySlot.values()]));
}

/** Samples as rows for COPY in its binary format. */
function* copyRows(samples: Iterable<RecentSample>): Generator<Buffer> {
  const rows = new BinaryRows(5);
  const resources = new Map<string, Buffer>();
  /** What stands between a resource and its value, by metric: mostly a push tells of one instant. */
  const middles = new Map<string, { at: Instant; stepS: number; fields: Buffer }>();
  for (const { resourceId, metric, at, stepS, value } of samples) {
    let resource = resources.get(resourceId);
    if (!resource) {
      resource = textField(resourceId);
      resources.set(resourceId, resource);
    }
    let middle = middles.get(metric);
    if (!middle || middle.at !== at || middle.stepS !== stepS) {
      middle = { at, stepS, fields: Buffer.concat([textField(metric), instantField(at), integerField(stepS)]) };
      middles.set(metric, middle);
    }
    const full = rows.add(resource, middle.fields, value);
    if (full) yield full;
  }
  yield rows.end();
}

/** What is known of a metric of an account: the end of its last slot, and whether what runs lacks slots up to then. */
export type SeriesState = Readonly<{ at: Instant; stepS: number; series: number; isBehind: boolean }>;

/** How far each metric of an account is known, since an instant. */
export async function seriesStates(
  pool: Pool,
  { account, metrics, since }: Readonly<{ account: string; metrics: readonly string[]; since: Instant }>,
): Promise<Map<string, SeriesState>> {
  const { rows } = await pool.query<SeriesState & { metric: string }>(
    `select metric, max(last) as at, max(step) as "stepS", count(*)::integer as series,
       coalesce(bool_or(runs and (last < newest or (slots - 1) * step < extract(epoch from last - first))), false) as "isBehind"
     from (
       select m.metric, r.run_since is not null as runs, count(*) as slots, min(m.at) as first, max(m.at) as last,
         max(m.step_s) as step, max(max(m.at)) over (partition by m.metric) as newest
       from metric_recent m
       join resource r on r.id = m.resource_id
       where r.account = $1::text and m.metric = any ($2::text[]) and m.at > to_timestamp($3::double precision)
       group by m.metric, m.resource_id, r.run_since
     ) as of_series
     group by metric`,
    [account, metrics, since],
  );
  return new Map(rows.map(({ metric, ...state }) => [metric, state]));
}

/** Samples of some metrics of some resources in `(from, to]`, by resource; of each metric in order of time. */
export async function recentSamples(
  pool: Pool,
  { ids, metrics, from, to }: { ids: readonly string[]; metrics: readonly string[]; from: Instant; to: Instant },
): Promise<Map<string, RecentSample[]>> {
  // A row for each series: thousands of machines with dozens of samples each would be a row too many for each of them.
  const { rows } = await pool.query<{ resourceId: string; metric: string; stepS: number; at: number[]; values: number[] }>(
    `select resource_id as "resourceId", metric, max(step_s) as "stepS",
       array_agg(extract(epoch from at)::integer order by at) as at, array_agg(value order by at) as values
     from metric_recent
     where resource_id = any ($1::text[]) and metric = any ($2::text[])
       and at > to_timestamp($3::double precision) and at <= to_timestamp($4::double precision)
     group by resource_id, metric`,
    [ids, metrics, from, to],
  );
  const byResource = new Map<string, RecentSample[]>();
  for (const { resourceId, metric, stepS, at, values } of rows) {
    const own = byResource.get(resourceId) ?? [];
    byResource.set(resourceId, own);
    at.forEach((t, i) => {
      own.push({ resourceId, metric, at: t, stepS, value: values[i] as number });
    });
  }
  return byResource;
}

/** Folds the samples up to the end of a UTC day into the rows of their days, where there is none yet, and lets them go. */
export async function foldRecent(pool: Pool, until: Instant): Promise<void> {
  const { rows } = await pool.query<{ month: string }>(
    `select distinct to_char(at at time zone 'utc' - interval '1 second', 'YYYY-MM') as month
     from metric_recent where at <= to_timestamp($1::double precision)`,
    [until],
  );
  if (rows.length === 0) return;
  await ensureMonths(
    pool,
    "metric_day",
    rows.map(({ month }) => month),
  );
  await inTransaction(pool, async (tx) => {
    await tx.query(
      `insert into metric_day (resource_id, metric, day, step_s, samples)
       select d.resource_id, d.metric, d.day, d.step_s, array(
         select v.value::real
         from generate_series(1, 86400 / d.step_s) as slot
         left join metric_recent v on v.resource_id = d.resource_id and v.metric = d.metric
           and v.at = d.day::timestamp at time zone 'utc' + slot * d.step_s * interval '1 second'
         order by slot)
       from (
         select distinct on (resource_id, metric, (at at time zone 'utc' - interval '1 second')::date)
           resource_id, metric, (at at time zone 'utc' - interval '1 second')::date as day, step_s
         from metric_recent
         where at <= to_timestamp($1::double precision)
       ) as d
       on conflict do nothing`,
      [until],
    );
    await tx.query("delete from metric_recent where at <= to_timestamp($1::double precision)", [until]);
  });
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

/** Names of metrics of which samples came of late, up to a number, those first that begin with what is looked for; and how many there are. */
export async function metricsKnown(
  pool: Pool,
  { like, limit }: Readonly<{ like: string; limit: number }>,
): Promise<Readonly<{ names: string[]; of: number }>> {
  const { rows } = await pool.query<{ name: string; of: number }>(
    `select name, (count(*) over ())::integer as of from metric_name
     where position(lower($1::text) in lower(name)) > 0
     order by position(lower($1::text) in lower(name)), name limit $2::integer`,
    [like, limit],
  );
  return { names: rows.map(({ name }) => name), of: rows[0]?.of ?? 0 };
}

/** Remembers names of metrics that samples came of, with when the last did, to the day. */
async function nameMetrics(db: Db, lastAt: ReadonlyMap<string, Instant>): Promise<void> {
  const named = [[...lastAt.keys()], [...lastAt.values()]];
  await db.query(
    `insert into metric_name (name, last_at)
     select name, to_timestamp(at) from unnest($1::text[], $2::double precision[]) as line (name, at)
     on conflict do nothing`,
    named,
  );
  // Whoever has a name in hand says the same of it: nobody waits for anybody.
  await db.query(
    `update metric_name n set last_at = line.last_at
     from (
       select o.name, to_timestamp(line.at) as last_at
       from unnest($1::text[], $2::double precision[]) as line (name, at)
       join metric_name o on o.name = line.name and o.last_at < to_timestamp(line.at) - interval '1 day'
       for update of o skip locked
     ) as line
     where n.name = line.name`,
    named,
  );
}

/** Forgets names of metrics that nothing came of since an instant, and which of them sources told. */
export async function dropMetricNames(db: Db, before: Instant): Promise<void> {
  await db.query("delete from metric_name where last_at < to_timestamp($1::double precision)", [before]);
  await db.query("delete from metric_series where last_at < to_timestamp($1::double precision)", [before]);
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
