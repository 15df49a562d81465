import type { NamingRule } from "@/core/samples";
import type { Instant } from "@/core/time";
import type { Db } from "./pool";
import { whole } from "./whole";

/** What a Prometheus is asked for one metric: PromQL, and the label that names the machine. */
export type PullQuery = Readonly<{ metric: string; query: string; label: string }>;

/** What a person says of a source. */
export type SourceSetting = Readonly<{
  name: string;
  /** The address of a Prometheus; null where samples are pushed. */
  url: string | null;
  queries: readonly PullQuery[];
  naming: NamingRule;
  stepS: number;
}>;

/** A source of metrics, with how it goes. */
export type MetricSource = SourceSetting &
  Readonly<{
    id: number;
    kind: "push" | "pull";
    isPaused: boolean;
    person: string;
    at: Instant;
    cameAt: Instant | null;
    sampleAt: Instant | null;
    taken: number;
    refused: number;
    /** Samples a minute, of late. */
    rate: number | null;
    error: string | null;
    errorAt: Instant | null;
    /** The error is that it did not answer at all. */
    isSilent: boolean;
    history: Readonly<{ done: number; of: number; error: string | null }> | null;
  }>;

const SOURCES_MAX = 1_000;
const SOURCE = `id, kind, name, url, queries, step_s as "stepS", is_paused as "isPaused", person, at, came_at as "cameAt",
  sample_at as "sampleAt", taken::double precision as taken, refused::double precision as refused, rate, error, error_at as "errorAt", is_silent as "isSilent",
  json_build_object('attribute', attribute, 'names', names, 'tag', tag, 'account', account, 'domain', domain) as naming,
  case when history_of is not null
    then json_build_object('done', history_done, 'of', history_of, 'error', history_error) end as history`;

/** Every source that was not removed. */
export async function sourceList(db: Db): Promise<MetricSource[]> {
  const { rows } = await db.query<MetricSource>(
    `select ${SOURCE} from metric_source where removed_at is null order by lower(name) limit $1::integer`,
    [SOURCES_MAX + 1],
  );
  return whole(rows, { most: SOURCES_MAX, what: "sources of metrics" });
}

export async function maybeSource(db: Db, id: number): Promise<MetricSource | null> {
  const { rows } = await db.query<MetricSource>(
    `select ${SOURCE} from metric_source where id = $1::integer and removed_at is null`,
    [id],
  );
  return rows[0] ?? null;
}

/** The source whose key this is the hash of. */
export async function sourceOfKey(db: Db, hash: Buffer): Promise<MetricSource | null> {
  const { rows } = await db.query<MetricSource>(
    `select ${SOURCE} from metric_source where key_hash = $1::bytea and removed_at is null`,
    [hash],
  );
  return rows[0] ?? null;
}

export type NewSource = SourceSetting & Readonly<{ keyHash: Buffer | null; person: string; at: Instant }>;

/** The new one's number; null where the name is taken. */
export async function addSource(db: Db, source: NewSource): Promise<number | null> {
  const { name, url, queries, naming, stepS, keyHash, person, at } = source;
  const { rows } = await db.query<{ id: number }>(
    `insert into metric_source (name, kind, key_hash, url, queries, attribute, names, tag, account, step_s, person, at, domain)
     values ($1::text, $2::text, $3::bytea, $4::text, $5::jsonb, $6::text, $7::text, $8::text, $9::text, $10::integer, $11::text,
       to_timestamp($12::double precision), $13::text)
     on conflict do nothing
     returning id`,
    [
      name,
      url === null ? "push" : "pull",
      keyHash,
      url,
      JSON.stringify(queries),
      naming.attribute,
      naming.names,
      naming.tag,
      naming.account,
      stepS,
      person,
      at,
      naming.domain,
    ],
  );
  return rows[0]?.id ?? null;
}

/** False where the name is another's. */
export async function changeSource(db: Db, id: number, { name, url, queries, naming, stepS }: SourceSetting): Promise<boolean> {
  const { rowCount } = await db.query(
    `update metric_source s
     set name = $2::text, url = $3::text, queries = $4::jsonb, attribute = $5::text, names = $6::text, tag = $7::text,
       account = $8::text, step_s = $9::integer, domain = $10::text
     where id = $1::integer and removed_at is null
       and not exists (select from metric_source o where o.id <> s.id and o.removed_at is null and lower(o.name) = lower($2::text))`,
    [id, name, url, JSON.stringify(queries), naming.attribute, naming.names, naming.tag, naming.account, stepS, naming.domain],
  );
  return rowCount === 1;
}

export async function setSourcePaused(db: Db, id: number, isPaused: boolean): Promise<boolean> {
  const { rowCount } = await db.query(
    "update metric_source set is_paused = $2::boolean where id = $1::integer and removed_at is null",
    [id, isPaused],
  );
  return rowCount === 1;
}

/** A new key in the place of the old one, which opens nothing any more. */
export async function setSourceKey(db: Db, id: number, keyHash: Buffer): Promise<boolean> {
  const { rowCount } = await db.query(
    "update metric_source set key_hash = $2::bytea where id = $1::integer and kind = 'push' and removed_at is null",
    [id, keyHash],
  );
  return rowCount === 1;
}

/** Removes a source, what it named and its key; its samples go too where they are not to be kept. Those of before it, and of other sources, stay. */
export async function removeSource(
  db: Db,
  id: number,
  { at, keepsSamples }: { at: Instant; keepsSamples: boolean },
): Promise<boolean> {
  const { rowCount } = await db.query(
    `update metric_source set removed_at = to_timestamp($2::double precision), key_hash = null
     where id = $1::integer and removed_at is null`,
    [id, at],
  );
  if (rowCount !== 1) return false;
  if (!keepsSamples) {
    await db.query(
      `delete from metric_recent m using metric_series s, recent_series r
       where s.source_id = $1::integer and r.resource_id = s.resource_id and r.metric = s.metric and m.series = r.id
         and m.at >= s.first_at and not exists (${OTHER})`,
      [id],
    );
    await db.query(
      `delete from metric_day m using metric_series s
       where s.source_id = $1::integer and m.resource_id = s.resource_id and m.metric = s.metric
         and m.day >= (s.first_at at time zone 'utc')::date and not exists (${OTHER})`,
      [id],
    );
  }
  await db.query("delete from metric_series where source_id = $1::integer", [id]);
  await db.query("delete from metric_host where source_id = $1::integer", [id]);
  await db.query("delete from metric_counter where source_id = $1::integer", [id]);
  return true;
}

const OTHER = `select from metric_series o
  where o.resource_id = s.resource_id and o.metric = s.metric and o.source_id <> s.source_id`;

/** What came of a source: how much was taken and refused, when, and what was wrong. */
export type SourceNews = Readonly<{
  id: number;
  taken: number;
  refused: number;
  sampleAt: Instant | null;
  error: string | null;
  /** It did not answer at all. */
  isSilent?: boolean;
  at: Instant;
}>;

/** Adds news to a source; its rate is that of the last minute, or longer, that is whole. */
export async function noteSource(
  db: Db,
  { id, taken, refused, sampleAt, error, isSilent = false, at }: SourceNews,
): Promise<void> {
  await db.query(
    `update metric_source set
       came_at = to_timestamp($6::double precision),
       sample_at = greatest(sample_at, to_timestamp($4::double precision)),
       taken = taken + $2::bigint, refused = refused + $3::bigint,
       error = coalesce($5::text, case when $3::bigint = 0 then null else error end),
       error_at = case when $5::text is not null then to_timestamp($6::double precision)
         when $3::bigint = 0 then null else error_at end,
       is_silent = case when $5::text is not null then $7::boolean when $3::bigint = 0 then false else is_silent end,
       rate = case when rate_from is null or to_timestamp($6::double precision) - rate_from < interval '1 minute' then rate
         else rate_taken * 60 / extract(epoch from to_timestamp($6::double precision) - rate_from) end,
       rate_from = case when rate_from is null or to_timestamp($6::double precision) - rate_from >= interval '1 minute'
         then to_timestamp($6::double precision) else rate_from end,
       rate_taken = case when rate_from is null or to_timestamp($6::double precision) - rate_from >= interval '1 minute'
         then $2::bigint else rate_taken + $2::bigint end
     where id = $1::integer`,
    [id, taken, refused, sampleAt, error, at, isSilent],
  );
}

/** Begins, goes on with, or ends the asking for a source's past. */
export async function noteHistory(
  db: Db,
  id: number,
  { done, of, error }: { done: number; of: number; error: string | null },
): Promise<void> {
  await db.query(
    "update metric_source set history_done = $2::integer, history_of = $3::integer, history_error = $4::text where id = $1::integer",
    [id, done, of, error],
  );
}
