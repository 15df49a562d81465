import { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import { from as copyFrom } from "pg-copy-streams";
import { DAY_S, type Instant } from "@/core/time";
import { BinaryRows, instantField, integerField } from "./copy-binary";
import { nameMetrics } from "./metric-names";
import { ensureMonths } from "./partitions";
import type { Pool } from "./pool";
import { dangerouslyDropRecentDay, dayOfSample, ensureRecentDays, forgetRecentDays, recentDays } from "./recent-days";
import { type SeriesNumbers, seriesNumbers } from "./recent-series";
import { inTransaction } from "./transaction";

/** A sample of late, at the end of its slot. */
export type RecentSample = Readonly<{ resourceId: string; metric: string; at: Instant; stepS: number; value: number }>;

/** Stores samples with COPY, in whatever order and however often they come; the last one told of a slot counts. */
export async function saveRecent(pool: Pool, samples: readonly RecentSample[]): Promise<void> {
  if (samples.length === 0) return;
  const metrics = new Map<string, Instant>();
  const days = new Set<string>();
  // Mostly a push tells of one day.
  let [from, to] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (const { metric, at } of samples) {
    if (at > (metrics.get(metric) ?? 0)) metrics.set(metric, at);
    if (at > from && at <= to) continue;
    const end = Math.ceil(at / DAY_S) * DAY_S;
    [from, to] = [end - DAY_S, end];
    days.add(dayOfSample(at));
  }
  const numbers = await seriesNumbers(pool, samples);
  await ensureRecentDays(pool, days);
  try {
    await copyIn(pool, samples, { metrics, numbers });
  } catch (error) {
    if ((error as { code?: string }).code !== NO_PARTITION) throw error;
    // A day was folded and dropped by another process just now.
    forgetRecentDays(pool);
    await ensureRecentDays(pool, days);
    await copyIn(pool, samples, { metrics, numbers });
  }
}

type Copying = Readonly<{ metrics: ReadonlyMap<string, Instant>; numbers: SeriesNumbers }>;

async function copyIn(pool: Pool, samples: readonly RecentSample[], { metrics, numbers }: Copying): Promise<void> {
  await inTransaction(pool, async (tx) => {
    await nameMetrics(tx, metrics);
    // Mostly all of it is new: it goes where it belongs at once. What is told again, or twice, goes by way of a table beside.
    await tx.query("savepoint straight");
    try {
      await pipeline(Readable.from(copyRows(samples, numbers)), tx.query(copyFrom(`copy metric_recent ${COLUMNS} ${BINARY}`)));
      return;
    } catch (error) {
      if ((error as { code?: string }).code !== UNIQUE_VIOLATION) throw error;
      await tx.query("rollback to savepoint straight");
    }
    await tx.query("create temporary table incoming (like metric_recent) on commit drop");
    const last = Readable.from(copyRows(lastOfEach(samples), numbers));
    await pipeline(last, tx.query(copyFrom(`copy incoming ${COLUMNS} ${BINARY}`)));
    await tx.query(
      `insert into metric_recent ${COLUMNS}
       select series, at, step_s, value
       from incoming
       on conflict (series, at) do update set step_s = excluded.step_s, value = excluded.value
       where metric_recent.value <> excluded.value`,
    );
  });
}

const COLUMNS = "(series, at, step_s, value)";
const BINARY = "from stdin (format binary)";
const UNIQUE_VIOLATION = "23505";
const NO_PARTITION = "23514";

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
function* copyRows(samples: Iterable<RecentSample>, numbers: SeriesNumbers): Generator<Buffer> {
  const rows = new BinaryRows(4);
  /** What stands between a series and its value: mostly a push tells of one instant. */
  let middle = { at: Number.NaN, stepS: 0, fields: Buffer.alloc(0) };
  for (const { resourceId, metric, at, stepS, value } of samples) {
    if (middle.at !== at || middle.stepS !== stepS)
      middle = { at, stepS, fields: Buffer.concat([instantField(at), integerField(stepS)]) };
    const full = rows.add(numbers.of(resourceId, metric), middle.fields, value);
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
       select s.metric, r.run_since is not null as runs, count(*) as slots, min(m.at) as first, max(m.at) as last,
         max(m.step_s) as step, max(max(m.at)) over (partition by s.metric) as newest
       from metric_recent m
       join recent_series s on s.id = m.series
       join resource r on r.id = s.resource_id
       where r.account = $1::text and s.metric = any ($2::text[]) and m.at > to_timestamp($3::double precision)
       group by s.metric, s.id, r.run_since
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
    `select s.resource_id as "resourceId", s.metric, max(m.step_s) as "stepS",
       array_agg(extract(epoch from m.at)::integer order by m.at) as at, array_agg(m.value order by m.at) as values
     from recent_series s
     join metric_recent m on m.series = s.id
     where s.resource_id = any ($1::text[]) and s.metric = any ($2::text[])
       and m.at > to_timestamp($3::double precision) and m.at <= to_timestamp($4::double precision)
     group by s.id`,
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

/**
 * Folds the samples up to the end of a UTC day into the rows of their days, where there is none yet, and lets them go, a day at a
 * time. What comes of a day while it is folded counts as told too late.
 */
export async function foldRecent(pool: Pool, until: Instant): Promise<void> {
  const over = dayOfSample(until);
  for (const day of await recentDays(pool)) {
    if (day > over) return;
    await foldDay(pool, day);
    if (!(await dangerouslyDropRecentDay(pool, day))) return;
  }
}

async function foldDay(pool: Pool, day: string): Promise<void> {
  await ensureMonths(pool, "metric_day", [day.slice(0, 7)]);
  await pool.query(
    `insert into metric_day (resource_id, metric, day, step_s, samples)
     select s.resource_id, s.metric, $1::date, d.step_s, array(
       select v.value::real
       from generate_series(1, 86400 / d.step_s) as slot
       left join metric_recent v on v.series = d.series and v.at = $1::timestamp at time zone 'utc' + slot * d.step_s * interval '1 second'
       order by slot)
     from (
       select distinct on (series) series, step_s
       from metric_recent
       where at > $1::timestamp at time zone 'utc' and at <= ($1::date + 1)::timestamp at time zone 'utc'
       order by series, at
     ) as d
     join recent_series s on s.id = d.series
     on conflict do nothing`,
    [day],
  );
}
