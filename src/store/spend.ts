import { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import { from as copyFrom } from "pg-copy-streams";
import type { Amount } from "@/core/pricing";
import type { Cost } from "@/core/spend";
import type { Instant } from "@/core/time";
import { ensureMonths } from "./partitions";
import type { Db, Pool } from "./pool";
import { inTransaction } from "./transaction";

export type SpendDay = Readonly<{ resourceId: string; day: string; cost: Cost }>;

/** The last UTC day that is reckoned for good, `YYYY-MM-DD`; null before the first. */
export async function closedDay(db: Db): Promise<string | null> {
  const { rows } = await db.query<{ day: string | null }>("select day from spend_closed");
  return rows[0]?.day ?? null;
}

/** Stores the days and notes the last of them as closed, together or not at all. A day that is reckoned again is replaced. */
export async function closeDays(
  pool: Pool,
  { spend, from, through }: { spend: readonly SpendDay[]; from: string; through: string },
): Promise<void> {
  await ensureMonths(
    pool,
    "spend_day",
    spend.map(({ day }) => day.slice(0, 7)),
  );
  await inTransaction(pool, async (tx) => {
    await tx.query("delete from spend_day where day between $1::date and $2::date", [from, through]);
    const copy = tx.query(
      copyFrom("copy spend_day (day, resource_id, compute, licence, disk, address, image, covered, seconds_on) from stdin"),
    );
    await pipeline(Readable.from(spend.map(copyLine)), copy);
    await tx.query("update spend_closed set day = greatest(day, $1::date)", [through]);
  });
}

function copyLine({ resourceId, day, cost }: SpendDay): string {
  const id = resourceId.replace(/\\/g, "\\\\").replace(/\t/g, "\\t").replace(/\n/g, "\\n");
  const { compute, licence, disk, address, image, covered, secondsOn } = cost;
  return `${day}\t${id}\t${compute}\t${licence}\t${disk}\t${address}\t${image}\t${covered}\t${secondsOn}\n`;
}

/** Opens the days from one on again: they are reckoned anew. */
export async function reopenDays(db: Db, from: string): Promise<void> {
  await db.query("update spend_closed set day = least(day, $1::date - 1)", [from]);
  await db.query("delete from spend_hour where hour >= $1::date::timestamptz", [from]);
  await db.query("delete from realised_day where day >= $1::date", [from]);
}

/** What each resource cost on the closed days from one to another, both included. */
export async function spendOfDays(db: Db, { from, to }: { from: string; to: string }): Promise<Map<string, Amount>> {
  const { rows } = await db.query<{ id: string; total: string }>(
    `select resource_id as id, sum(total)::text as total
     from spend_day
     where day between $1::date and $2::date
     group by resource_id`,
    [from, to],
  );
  return new Map(rows.map(({ id, total }) => [id, BigInt(total) as Amount]));
}

/** The closed days' costs of resources, by resource and day. */
export async function spendDayList(
  db: Db,
  { from, to, ids = null }: { from: string; to: string; ids?: readonly string[] | null },
): Promise<SpendDay[]> {
  const { rows } = await db.query<Record<string, string> & { seconds_on: number }>(
    `select resource_id, day, compute, licence, disk, address, image, covered, seconds_on
     from spend_day
     where day between $1::date and $2::date and ($3::text[] is null or resource_id = any ($3::text[]))
     order by resource_id, day
     limit 2000000`,
    [from, to, ids],
  );
  const big = (text: string | undefined) => BigInt(text ?? "0") as Amount;
  return rows.map((row) => ({
    resourceId: row.resource_id as string,
    day: row.day as string,
    cost: {
      compute: big(row.compute),
      licence: big(row.licence),
      disk: big(row.disk),
      address: big(row.address),
      image: big(row.image),
      covered: big(row.covered),
      secondsOn: row.seconds_on,
    },
  }));
}

/** What all of it cost on each day, in exact decimals with six places as the database rounds them. */
export async function spendTotals(
  db: Db,
  { from, to }: { from: string; to: string },
): Promise<Readonly<{ day: string; micros: bigint }>[]> {
  const { rows } = await db.query<{ day: string; micros: string }>(
    `select day, micros_of(sum(total))::text as micros
     from spend_day
     where day between $1::date and $2::date
     group by day
     order by day
     limit 4000`,
    [from, to],
  );
  return rows.map(({ day, micros }) => ({ day, micros: BigInt(micros) }));
}

/** The whole hours of `[from, to)` that are reckoned, by their first instant. */
export async function spendHours(db: Db, { from, to }: { from: Instant; to: Instant }): Promise<Map<Instant, Amount>> {
  const { rows } = await db.query<{ hour: Instant; amount: string }>(
    `select hour, amount::text
     from spend_hour
     where hour >= to_timestamp($1::double precision) and hour < to_timestamp($2::double precision)
     limit 20000`,
    [from, to],
  );
  return new Map(rows.map(({ hour, amount }) => [hour, BigInt(amount) as Amount]));
}

export async function saveSpendHours(db: Db, hours: ReadonlyMap<Instant, Amount>): Promise<void> {
  await db.query(
    `insert into spend_hour (hour, amount)
     select to_timestamp(hour), amount::numeric
     from unnest($1::double precision[], $2::text[]) as line (hour, amount)
     on conflict (hour) do update set amount = excluded.amount`,
    [[...hours.keys()], [...hours.values()].map(String)],
  );
}
