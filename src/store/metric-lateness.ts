import type { Instant } from "@/core/time";
import type { Db } from "./pool";
import { whole } from "./whole";

/** So many samples of a metric of an account came so many minutes late; from one of our sources, or (null) from its provider. */
export type Lateness = Readonly<{ account: string; sourceId: number | null; metric: string; minutes: number; samples: number }>;

const LINES_MAX = 1_000_000;

/** Adds to what is known of the hour. */
export async function noteLateness(db: Db, lines: readonly Lateness[], now: Instant): Promise<void> {
  if (lines.length === 0) return;
  await db.query(
    `insert into metric_lateness (account, source_id, metric, hour, minutes, samples)
     select account, source_id, metric, date_trunc('hour', to_timestamp($6::double precision)), minutes, samples
     from unnest($1::text[], $2::integer[], $3::text[], $4::smallint[], $5::bigint[])
       as line (account, source_id, metric, minutes, samples)
     order by account, source_id, metric, minutes
     on conflict (account, source_id, metric, hour, minutes)
       do update set samples = metric_lateness.samples + excluded.samples`,
    [
      lines.map(({ account }) => account),
      lines.map(({ sourceId }) => sourceId),
      lines.map(({ metric }) => metric),
      lines.map(({ minutes }) => minutes),
      lines.map(({ samples }) => samples),
      now,
    ],
  );
}

/** What came how late since an instant, to the hour; of some metrics, or (null) of all. */
export async function latenessSince(db: Db, since: Instant, metrics: readonly string[] | null): Promise<Lateness[]> {
  const { rows } = await db.query<Lateness>(
    `select account, source_id as "sourceId", metric, minutes, sum(samples)::double precision as samples
     from metric_lateness
     where hour >= to_timestamp($1::double precision) and ($3::text[] is null or metric = any ($3::text[]))
     group by account, source_id, metric, minutes
     order by account, source_id, metric, minutes
     limit $2::integer`,
    [since, LINES_MAX + 1, metrics],
  );
  return whole(rows, { most: LINES_MAX, what: "lines of how late samples came" });
}

export async function dropLateness(db: Db, before: Instant): Promise<void> {
  await db.query("delete from metric_lateness where hour < to_timestamp($1::double precision)", [before]);
}
