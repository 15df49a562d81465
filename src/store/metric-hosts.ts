import type { Attributes, Counter } from "@/core/samples";
import type { Instant } from "@/core/time";
import type { Db } from "./pool";
import { whole } from "./whole";

/** A host as a source named it, with its machine or why it has none. */
export type MetricHost = Readonly<{
  identity: string;
  attributes: Attributes;
  resourceId: string | null;
  why: string | null;
  lastAt: Instant;
}>;

/** So many hosts that have a machine are written down of a source. */
export const HOSTS_MAX = 100_000;
/** So many that have none: of more, those that were named for the first time last. */
export const STRANGERS_MAX = 10_000;
const HOST = `identity, attributes, resource_id as "resourceId", why, last_at as "lastAt"`;

/** What a source has named. */
export async function hostList(db: Db, sourceId: number): Promise<MetricHost[]> {
  const most = HOSTS_MAX + 2 * STRANGERS_MAX;
  const { rows } = await db.query<MetricHost>(
    `select ${HOST} from metric_host where source_id = $1::integer order by identity limit $2::integer`,
    [sourceId, most + 1],
  );
  return whole(rows, { most, what: "hosts of a source" });
}

/** Hosts of a source that name no machine, up to a number: those first that were named for the first time last. */
export async function strangerList(db: Db, sourceId: number, limit: number): Promise<MetricHost[]> {
  const { rows } = await db.query<MetricHost>(
    `select ${HOST} from metric_host where source_id = $1::integer and resource_id is null
     order by first_at desc, identity limit $2::integer`,
    [sourceId, limit],
  );
  return rows;
}

/** Forgets the strangers of a source beyond so many, those first that have been known the longest. */
export async function dropStrangers(db: Db, sourceId: number, kept = STRANGERS_MAX): Promise<void> {
  await db.query(
    `delete from metric_host where ctid = any (array(
       select ctid from metric_host where source_id = $1::integer and resource_id is null
       order by first_at desc, identity offset $2::integer))`,
    [sourceId, kept],
  );
}

/** How many hosts of each source have a machine, and how many have none. */
export async function hostCounts(db: Db): Promise<Map<number, { matched: number; unmatched: number }>> {
  const { rows } = await db.query<{ id: number; matched: number; unmatched: number }>(
    `select source_id as id, count(resource_id)::integer as matched, (count(*) - count(resource_id))::integer as unmatched
     from metric_host group by source_id`,
  );
  return new Map(rows.map(({ id, ...counts }) => [id, counts]));
}

/** Writes down what a source named. */
export async function saveHosts(db: Db, sourceId: number, hosts: readonly MetricHost[]): Promise<void> {
  if (hosts.length === 0) return;
  await db.query(
    `insert into metric_host (source_id, identity, attributes, resource_id, why, first_at, last_at)
     select $1::integer, identity, attributes::jsonb, resource_id, why, to_timestamp(at), to_timestamp(at)
     from unnest($2::text[], $3::text[], $4::text[], $5::text[], $6::double precision[])
       as line (identity, attributes, resource_id, why, at)
     on conflict (source_id, identity) do update set attributes = excluded.attributes, resource_id = excluded.resource_id,
       why = excluded.why, last_at = greatest(metric_host.last_at, excluded.last_at)`,
    [
      sourceId,
      hosts.map(({ identity }) => identity),
      hosts.map(({ attributes }) => JSON.stringify(attributes)),
      hosts.map(({ resourceId }) => resourceId),
      hosts.map(({ why }) => why),
      hosts.map(({ lastAt }) => lastAt),
    ],
  );
}

/** Forgets hosts that were not named since an instant. */
export async function dropHosts(db: Db, before: Instant): Promise<void> {
  await db.query("delete from metric_host where last_at < to_timestamp($1::double precision)", [before]);
  await db.query("delete from metric_counter where at < $1::double precision", [before]);
}

export type MetricSeries = Readonly<{ resourceId: string; metric: string; firstAt: Instant; lastAt: Instant }>;

/** Writes down which series a source tells. */
export async function saveSeries(db: Db, sourceId: number, series: readonly MetricSeries[]): Promise<void> {
  if (series.length === 0) return;
  await db.query(
    `insert into metric_series (source_id, resource_id, metric, first_at, last_at)
     select $1::integer, id, metric, to_timestamp(first), to_timestamp(last)
     from unnest($2::text[], $3::text[], $4::double precision[], $5::double precision[]) as line (id, metric, first, last)
     on conflict (source_id, resource_id, metric) do update set
       first_at = least(metric_series.first_at, excluded.first_at), last_at = greatest(metric_series.last_at, excluded.last_at)`,
    [
      sourceId,
      series.map(({ resourceId }) => resourceId),
      series.map(({ metric }) => metric),
      series.map(({ firstAt }) => firstAt),
      series.map(({ lastAt }) => lastAt),
    ],
  );
}

/** The series that sources in use told since an instant, as `resource metric`, with when that began: what the provider says of them is not taken. */
export async function seriesTold(db: Db, { account, since }: { account: string; since: Instant }): Promise<Map<string, Instant>> {
  const { rows } = await db.query<{ key: string; from: Instant }>(
    `select s.resource_id || ' ' || s.metric as key, min(s.first_at) as "from"
     from metric_series s
     join metric_source o on o.id = s.source_id and o.removed_at is null and not o.is_paused
     join resource r on r.id = s.resource_id
     where r.account = $1::text and s.last_at > to_timestamp($2::double precision)
     group by 1`,
    [account, since],
  );
  return new Map(rows.map(({ key, from }) => [key, from]));
}

/** The names of metrics that a source tells, and of some resources which, up to a number of each. */
export async function namesTold(
  db: Db,
  sourceId: number,
  { ids, limit }: Readonly<{ ids: readonly string[]; limit: number }>,
): Promise<Readonly<{ names: string[]; byResource: ReadonlyMap<string, readonly string[]> }>> {
  const [{ rows: names }, { rows: own }] = await Promise.all([
    db.query<{ metric: string }>(
      "select distinct metric from metric_series where source_id = $1::integer order by metric limit $2::integer",
      [sourceId, limit],
    ),
    db.query<{ id: string; metrics: string[] }>(
      `select resource_id as id, array_agg(metric) as metrics from metric_series
       where source_id = $1::integer and resource_id = any ($2::text[]) group by resource_id`,
      [sourceId, ids],
    ),
  ]);
  return { names: names.map(({ metric }) => metric), byResource: new Map(own.map(({ id, metrics }) => [id, metrics])) };
}

/** The metrics that sources tell of one resource, by name, up to a number. */
export async function metricsToldOf(db: Db, resourceId: string, limit: number): Promise<string[]> {
  const { rows } = await db.query<{ metric: string }>(
    "select distinct metric from metric_series where resource_id = $1::text order by metric limit $2::integer",
    [resourceId, limit],
  );
  return rows.map(({ metric }) => metric);
}

/** What series that count on had come to; those that are known. */
export async function counterList(db: Db, sourceId: number, keys: readonly string[]): Promise<Map<string, Counter>> {
  if (keys.length === 0) return new Map();
  const { rows } = await db.query<Counter & { series: string }>(
    `select series, from_at as "from", at, value, count from metric_counter
     where source_id = $1::integer and series = any ($2::text[])`,
    [sourceId, keys],
  );
  return new Map(rows.map(({ series, ...counter }) => [series, counter]));
}

/** Keeps what they have come to now; one that another process knows of later stays. */
export async function saveCounters(db: Db, sourceId: number, counters: ReadonlyMap<string, Counter>): Promise<void> {
  if (counters.size === 0) return;
  const all = [...counters];
  await db.query(
    `insert into metric_counter (source_id, series, from_at, at, value, count)
     select $1::integer, series, from_at, at, value, count
     from unnest($2::text[], $3::double precision[], $4::double precision[], $5::double precision[], $6::double precision[])
       as line (series, from_at, at, value, count)
     order by series
     on conflict (source_id, series) do update set from_at = excluded.from_at, at = excluded.at, value = excluded.value, count = excluded.count
     where metric_counter.at < excluded.at`,
    [
      sourceId,
      all.map(([key]) => key),
      all.map(([, { from }]) => from),
      all.map(([, { at }]) => at),
      all.map(([, { value }]) => value),
      all.map(([, { count }]) => count),
    ],
  );
}
