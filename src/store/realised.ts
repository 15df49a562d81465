import { z } from "zod";
import type { Amount } from "@/core/pricing";
import { GAP_CAUSES, type Gap, type GapCause } from "@/core/realised";
import type { Db } from "./pool";

/** What a lever of a fleet was worth on a UTC day; exact amounts. */
export type RealisedDay = Readonly<{
  day: string;
  fleet: string;
  lever: "hours";
  alwaysOn: Amount;
  before: Amount | null;
  paid: Amount;
  projected: Amount;
  swallowed: Amount;
  gap: Gap;
}>;

const gapSchema = z.partialRecord(z.enum(GAP_CAUSES), z.string());

type Row = Record<"day" | "fleet" | "always_on" | "paid" | "projected" | "swallowed", string> & {
  lever: "hours";
  before: string | null;
  gap: unknown;
};

export async function realisedDays(db: Db, { from, to }: { from: string; to: string }): Promise<RealisedDay[]> {
  const { rows } = await db.query<Row>(
    `select day, fleet, lever, always_on, before, paid, projected, swallowed, gap
     from realised_day
     where day between $1::date and $2::date
     order by day, fleet, lever
     limit 100000`,
    [from, to],
  );
  return rows.map((row) => {
    const texts = gapSchema.parse(row.gap);
    const gap = Object.fromEntries(GAP_CAUSES.map((cause) => [cause, BigInt(texts[cause] ?? "0")]));
    return {
      day: row.day,
      fleet: row.fleet,
      lever: row.lever,
      alwaysOn: BigInt(row.always_on) as Amount,
      before: row.before === null ? null : (BigInt(row.before) as Amount),
      paid: BigInt(row.paid) as Amount,
      projected: BigInt(row.projected) as Amount,
      swallowed: BigInt(row.swallowed) as Amount,
      gap: gap as Record<GapCause, Amount>,
    };
  });
}

/** Stores a day in place of what was stored of it. */
export async function saveRealised(db: Db, one: RealisedDay): Promise<void> {
  await db.query(
    `insert into realised_day (day, fleet, lever, always_on, before, paid, projected, swallowed, gap)
     values ($1::date, $2::text, $3::text, $4::numeric, $5::numeric, $6::numeric, $7::numeric, $8::numeric, $9::jsonb)
     on conflict (day, fleet, lever) do update
       set always_on = excluded.always_on, before = excluded.before, paid = excluded.paid, projected = excluded.projected,
         swallowed = excluded.swallowed, gap = excluded.gap`,
    [
      one.day,
      one.fleet,
      one.lever,
      String(one.alwaysOn),
      one.before === null ? null : String(one.before),
      String(one.paid),
      String(one.projected),
      String(one.swallowed),
      JSON.stringify(Object.fromEntries(GAP_CAUSES.map((cause) => [cause, String(one.gap[cause])]))),
    ],
  );
}

/** When each fleet's first plan was put in force. */
export async function firstInForce(db: Db): Promise<Map<string, number>> {
  const { rows } = await db.query<{ name: string; at: number }>(
    `select f.name, min(v.at) as at
     from fleet f
     join plan_version v on v.fleet_id = f.id
     group by f.name
     limit 10000`,
  );
  return new Map(rows.map(({ name, at }) => [name, at]));
}

/** Actions that did not go through at once, from when they were recorded until they ended, in `[from, to)`. */
export async function troubledActions(
  db: Db,
  { from, to }: { from: number; to: number },
): Promise<readonly Readonly<{ resourceId: string; from: number; to: number }>[]> {
  const { rows } = await db.query<{ resourceId: string; from: number; to: number }>(
    `select resource_id as "resourceId", recorded_at as "from", coalesce(ended_at, to_timestamp($2::double precision)) as "to"
     from action
     where recorded_at < to_timestamp($2::double precision)
       and coalesce(ended_at, to_timestamp($2::double precision)) >= to_timestamp($1::double precision)
       and (attempts > 1 or status in ('refused', 'failed', 'given up'))
     limit 100000`,
    [from, to],
  );
  return rows;
}
