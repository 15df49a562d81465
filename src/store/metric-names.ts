import type { Instant } from "@/core/time";
import type { Db, Pool } from "./pool";

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
export async function nameMetrics(db: Db, lastAt: ReadonlyMap<string, Instant>): Promise<void> {
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
