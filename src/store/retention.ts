import type { Instant } from "@/core/time";
import { dangerouslyDropMonth, type Monthly } from "./partitions";
import type { Db, Pool } from "./pool";
import { inTransaction } from "./transaction";

const ROLL_UP: Record<Monthly, string> = {
  metric_day: `
    insert into metric_month (resource_id, metric, month, mean, highest, samples)
    select d.resource_id, d.metric, $1::date, avg(sample), max(sample), count(sample)
    from metric_day d
    cross join lateral unnest(d.samples) as sample
    where d.day >= $1::date and d.day < $1::date + interval '1 month'
    group by d.resource_id, d.metric
    on conflict (resource_id, metric, month) do nothing`,
  spend_day: `
    insert into spend_month (resource_id, month, compute, licence, disk, address, image, covered, seconds_on)
    select resource_id, $1::date, sum(compute), sum(licence), sum(disk), sum(address), sum(image), sum(covered), sum(seconds_on)
    from spend_day
    where day >= $1::date and day < $1::date + interval '1 month'
    group by resource_id
    on conflict (resource_id, month) do nothing`,
  usage_line: `
    insert into usage_month (import_id, month, account, resource_id, service_category, currency, billed, lines)
    select import_id, $1::date, account, resource_id, service_category, currency, sum(billed), count(*)
    from usage_line
    where day >= $1::date and day < $1::date + interval '1 month'
    group by import_id, account, resource_id, service_category, currency
    on conflict (import_id, month, account, resource_id, service_category, currency) do nothing`,
};

/** Adds a month of detail (`YYYY-MM`) up and drops it, together or not at all. */
export async function rollUpMonth(pool: Pool, table: Monthly, month: string): Promise<void> {
  await inTransaction(pool, async (tx) => {
    await tx.query(ROLL_UP[table], [`${month}-01`]);
    await dangerouslyDropMonth(tx, table, month);
  });
}

/** Forgets what is left of files that are through. */
export async function forgetRefusedChunks(db: Db): Promise<void> {
  await db.query(
    `delete from usage_chunk c
     using usage_import i
     where i.id = c.import_id and i.status in ('done', 'refused', 'cancelled', 'taken back')`,
  );
}

/** What the database takes for now, and the newest that anybody outside has told of: by these a clock of ours is held. */
export async function otherClocks(db: Db): Promise<Readonly<{ database: Instant; newest: Instant | null }>> {
  const { rows } = await db.query<{ database: number; newest: number | null }>(
    `select extract(epoch from clock_timestamp())::double precision as database,
       extract(epoch from greatest(
         (select max(at) from state_change where source = 'feed'),
         (select max(at) from metric_recent),
         (select max(day) + 1 from metric_day)::timestamp at time zone 'utc'))::double precision as newest`,
  );
  return rows[0] ?? { database: Number.NEGATIVE_INFINITY, newest: null };
}
