import { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import type { PoolClient } from "pg";
import { from as copyFrom } from "pg-copy-streams";
import type { Amount, MoneyView } from "@/core/pricing";
import type { Cost } from "@/core/spend";
import type { Instant } from "@/core/time";
import { copyText } from "./copy-text";
import { openLeverDays } from "./lever-days";
import { ensureMonths } from "./partitions";
import type { Db, Pool } from "./pool";
import { inTransaction } from "./transaction";
import { whole } from "./whole";

export type SpendDay = Readonly<{ resourceId: string; day: string; cost: Cost }>;

/** The last UTC day that is reckoned for good, `YYYY-MM-DD`, null before the first; and the epoch, which every reopening raises. */
export type SpendClosed = Readonly<{ day: string | null; epoch: string }>;

export async function spendClosed(db: Db): Promise<SpendClosed> {
  const { rows } = await db.query<SpendClosed>("select day, epoch::text as epoch from spend_closed");
  return rows[0] ?? { day: null, epoch: "0" };
}

export async function closedDay(db: Db): Promise<string | null> {
  return (await spendClosed(db)).day;
}

export type Closing = Readonly<{
  spend: readonly SpendDay[];
  from: string;
  through: string;
  /** Read before anything that is reckoned was. */
  epoch: string;
  at: Instant;
}>;

/**
 * Stores the days and notes the last of them as closed, together or not at all; false, and nothing
 * is stored, where days were opened since the epoch was read. A day that is reckoned again is
 * replaced, and where it came out differently that leaves a trace.
 */
export async function closeDays(pool: Pool, { spend, from, through, epoch, at }: Closing): Promise<boolean> {
  await ensureMonths(
    pool,
    "spend_day",
    spend.map(({ day }) => day.slice(0, 7)),
  );
  return inTransaction(pool, async (tx) => {
    const { rows } = await tx.query<{ epoch: string }>("select epoch::text as epoch from spend_closed for update");
    if (rows[0]?.epoch !== epoch) return false;
    await tx.query(
      "create temporary table was on commit drop as select resource_id, day, total from spend_day where day between $1::date and $2::date",
      [from, through],
    );
    await tx.query("delete from spend_day where day between $1::date and $2::date", [from, through]);
    const copy = tx.query(
      copyFrom("copy spend_day (day, resource_id, compute, licence, disk, address, image, covered, seconds_on) from stdin"),
    );
    await pipeline(Readable.from(spend.map(copyLine)), copy);
    await traceCorrections(tx, { from, through, at });
    await tx.query("update spend_closed set day = greatest(day, $1::date)", [through]);
    // Over once all that it opened is closed anew, whatever was closed before that.
    await tx.query(
      "update spend_reopening set is_open = false where is_open and coalesce(through_day, from_day) <= (select day from spend_closed)",
    );
    return true;
  });
}

/** What a day cost before and after it was reckoned anew, in all and by resource, with the causes of its reopening. */
async function traceCorrections(
  tx: PoolClient,
  { from, through, at }: { from: string; through: string; at: Instant },
): Promise<void> {
  await tx.query(
    `with changed as (
       select coalesce(was.day, now.day) as day, coalesce(was.resource_id, now.resource_id) as resource_id,
         coalesce(was.total, 0) as before, coalesce(now.total, 0) as after
       from was
       full join (select resource_id, day, total from spend_day where day between $1::date and $2::date) as now
         on now.resource_id = was.resource_id and now.day = was.day
       where coalesce(was.day, now.day) in (select day from was) and was.total is distinct from now.total
     ), causes as (
       select from_day, string_agg(distinct cause, '; ' order by cause) as causes,
         string_agg(distinct person, ', ' order by person) filter (where person <> '') as persons
       from spend_reopening
       where is_open
       group by from_day
     ), corrected as (
       insert into spend_correction (day, at, causes, persons, before, after, resources)
       select changed.day, to_timestamp($3::double precision),
         coalesce((select string_agg(causes, '; ' order by from_day) from causes where from_day <= changed.day), 'told late'),
         coalesce((select string_agg(persons, ', ' order by from_day) from causes where from_day <= changed.day), ''),
         (select sum(total) from was where was.day = changed.day),
         (select sum(total) from spend_day where spend_day.day = changed.day),
         count(*)
       from changed
       group by changed.day
       returning id, day
     )
     insert into spend_correction_line (correction_id, resource_id, before, after)
     select corrected.id, changed.resource_id, changed.before, changed.after
     from changed
     join corrected on corrected.day = changed.day`,
    [from, through, at],
  );
}

/** A closed day that was reckoned anew: what changed, by how much, when, and whose change caused it. */
export type SpendCorrection = Readonly<{
  id: number;
  day: string;
  at: Instant;
  causes: string;
  persons: string;
  before: Amount;
  after: Amount;
  resources: number;
}>;

/** The corrections of days, the latest day first. */
export async function spendCorrections(db: Db, { from, to }: { from: string; to: string }): Promise<SpendCorrection[]> {
  const { rows } = await db.query<Omit<SpendCorrection, "before" | "after"> & { before: string; after: string }>(
    `select id, day, at, causes, persons, before::text as before, after::text as after, resources
     from spend_correction
     where day between $1::date and $2::date
     order by day desc, id desc
     limit ${CORRECTIONS_MAX + 1}`,
    [from, to],
  );
  whole(rows, { most: CORRECTIONS_MAX, what: "corrections" });
  return rows.map((row) => ({ ...row, before: BigInt(row.before) as Amount, after: BigInt(row.after) as Amount }));
}

const CORRECTIONS_MAX = 10_000;

/** What a correction changed, the largest change first; a page of it. */
export async function correctionLines(
  db: Db,
  id: number,
  { offset, limit }: { offset: number; limit: number },
): Promise<readonly Readonly<{ resourceId: string; before: Amount; after: Amount }>[]> {
  const { rows } = await db.query<{ resourceId: string; before: string; after: string }>(
    `select resource_id as "resourceId", before::text as before, after::text as after
     from spend_correction_line
     where correction_id = $1::integer
     order by abs(after - before) desc, resource_id
     limit $2::integer offset $3::integer`,
    [id, limit, offset],
  );
  return rows.map((row) => ({ ...row, before: BigInt(row.before) as Amount, after: BigInt(row.after) as Amount }));
}

function copyLine({ resourceId, day, cost }: SpendDay): string {
  const id = copyText(resourceId);
  const { compute, licence, disk, address, image, covered, secondsOn } = cost;
  return `${day}\t${id}\t${compute}\t${licence}\t${disk}\t${address}\t${image}\t${covered}\t${secondsOn}\n`;
}

/** Why days are opened again, and who made the change; empty where a provider did. */
export type Reopening = Readonly<{ cause: string; person: string; at: Instant }>;

/** Opens the days from one on again: they are reckoned anew. Raises the epoch, so that nothing reckoned before is stored. */
export async function reopenDays(db: Db, from: string, { cause, person, at }: Reopening): Promise<void> {
  // What was closed last, be it open again for another cause: even with nothing closed from there on, something may be closing now.
  await db.query("select from spend_closed for update");
  const { rows } = await db.query<{ through: string | null }>(
    `select greatest(day, (select max(through_day) from spend_reopening where is_open))::text as through from spend_closed`,
  );
  const through = rows[0]?.through ?? null;
  await db.query("update spend_closed set epoch = epoch + 1, day = case when day >= $1::date then $1::date - 1 else day end", [
    from,
  ]);
  if (through !== null && through >= from) {
    await db.query(
      `insert into spend_reopening (from_day, through_day, cause, person, at)
       values ($1::date, $2::date, $3::text, $4::text, to_timestamp($5::double precision))`,
      [from, through, cause, person, at],
    );
  }
  await db.query("delete from spend_hour where hour >= $1::date::timestamptz", [from]);
  await db.query("delete from realised_day where day >= $1::date", [from]);
  await openLeverDays(db, from);
}

/** What each resource cost on the closed days from one to another, both included; before commitments with what those paid, after them with their fees. */
export async function spendOfDays(
  db: Db,
  { from, to, view }: { from: string; to: string; view: MoneyView },
): Promise<Map<string, Amount>> {
  const isFee = "resource_id like 'commitment:%'";
  const amount = view === "after" ? "total" : `case when ${isFee} then 0 else total + covered end`;
  const { rows } = await db.query<{ id: string; total: string }>(
    `select resource_id as id, sum(${amount})::text as total
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
     limit 2000001`,
    [from, to, ids],
  );
  whole(rows, { most: 2_000_000, what: "days of spending" });
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
     limit 4001`,
    [from, to],
  );
  whole(rows, { most: 4_000, what: "days" });
  return rows.map(({ day, micros }) => ({ day, micros: BigInt(micros) }));
}

/** What an hour cost, after commitments and before them. */
export type SpendHour = Readonly<Record<MoneyView, Amount>>;

/** The whole hours of `[from, to)` that are reckoned, by their first instant. */
export async function spendHours(db: Db, { from, to }: { from: Instant; to: Instant }): Promise<Map<Instant, SpendHour>> {
  const { rows } = await db.query<{ hour: Instant; amount: string; gross: string }>(
    `select hour, amount::text, gross::text
     from spend_hour
     where hour >= to_timestamp($1::double precision) and hour < to_timestamp($2::double precision)
     limit 20001`,
    [from, to],
  );
  whole(rows, { most: 20_000, what: "hours" });
  return new Map(
    rows.map(({ hour, amount, gross }) => [hour, { after: BigInt(amount) as Amount, before: BigInt(gross) as Amount }]),
  );
}

/** Stores whole hours of closed days; nothing where days were opened since the epoch was read. */
export async function saveSpendHours(pool: Pool, hours: ReadonlyMap<Instant, SpendHour>, epoch: string): Promise<void> {
  await inTransaction(pool, async (tx) => {
    const { rows } = await tx.query<{ epoch: string }>("select epoch::text as epoch from spend_closed for share");
    if (rows[0]?.epoch !== epoch) return;
    await tx.query(
      `insert into spend_hour (hour, amount, gross)
       select to_timestamp(hour), amount::numeric, gross::numeric
       from unnest($1::double precision[], $2::text[], $3::text[]) as line (hour, amount, gross)
       on conflict (hour) do update set amount = excluded.amount, gross = excluded.gross`,
      [
        [...hours.keys()],
        [...hours.values()].map(({ after }) => String(after)),
        [...hours.values()].map(({ before }) => String(before)),
      ],
    );
  });
}
