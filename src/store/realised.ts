import { z } from "zod";
import type { LeverDay } from "@/core/levers";
import type { Amount } from "@/core/pricing";
import { GAP_CAUSES, type Gap, type GapCause } from "@/core/realised";
import type { Instant } from "@/core/time";
import { leverDays, type StoredLeverDay, saveLeverDays } from "./lever-days";
import type { Db, Pool } from "./pool";
import { inTransaction } from "./transaction";
import { whole } from "./whole";

/** What the plan of a fleet was worth on a UTC day; exact amounts. */
export type RealisedDay = Readonly<{
  day: string;
  fleet: string;
  alwaysOn: Amount;
  before: Amount | null;
  /** The basis days of that weekday, `YYYY-MM-DD`. */
  basis: readonly string[];
  paid: Amount;
  /** What commitments carried of it. */
  covered: Amount;
  projected: Amount;
  priceEffect: Amount;
  coveredAnyway: Amount;
  coveredAnywayProjected: Amount;
  gap: Gap;
  /** What each lever that was pulled saved of it. */
  levers: readonly LeverDay[];
}>;

const gapSchema = z.partialRecord(z.enum(GAP_CAUSES), z.string());
const AMOUNTS = ["alwaysOn", "paid", "covered", "projected", "priceEffect", "coveredAnyway", "coveredAnywayProjected"] as const;
type Row = Record<(typeof AMOUNTS)[number] | "day" | "fleet", string> & {
  before: string | null;
  basis: string[];
  gap: unknown;
};
const DAYS_MAX = 1_000_000;

export async function realisedDays(db: Db, { from, to }: { from: string; to: string }): Promise<RealisedDay[]> {
  const { rows } = await db.query<Row>(
    `select day, fleet, always_on::text as "alwaysOn", before::text as before, basis, paid::text as paid,
       covered::text as covered, projected::text as projected, price_effect::text as "priceEffect", covered_anyway::text as "coveredAnyway",
       covered_anyway_projected::text as "coveredAnywayProjected", gap
     from realised_day
     where day between $1::date and $2::date
     order by day, fleet
     limit ${DAYS_MAX + 1}`,
    [from, to],
  );
  const levers = byDay(await leverDays(db, { from, to }));
  return whole(rows, { most: DAYS_MAX, what: "days of realised savings" }).map((row) => {
    const texts = gapSchema.parse(row.gap);
    const amounts = Object.fromEntries(AMOUNTS.map((name) => [name, BigInt(row[name])])) as Record<
      (typeof AMOUNTS)[number],
      Amount
    >;
    return {
      day: row.day,
      fleet: row.fleet,
      ...amounts,
      before: row.before === null ? null : (BigInt(row.before) as Amount),
      basis: row.basis,
      gap: Object.fromEntries(GAP_CAUSES.map((cause) => [cause, BigInt(texts[cause] ?? "0")])) as Record<GapCause, Amount>,
      levers: levers.get(`${row.day} ${row.fleet}`) ?? [],
    };
  });
}

function byDay(days: readonly StoredLeverDay[]): ReadonlyMap<string, readonly LeverDay[]> {
  const grouped = new Map<string, LeverDay[]>();
  for (const { day, fleet, ...own } of days) grouped.set(`${day} ${fleet}`, [...(grouped.get(`${day} ${fleet}`) ?? []), own]);
  return grouped;
}

/** Stores days in place of what was stored of them; false, and nothing is stored, where days were opened since the epoch was read. */
export async function saveRealised(pool: Pool, days: readonly RealisedDay[], epoch: string): Promise<boolean> {
  return inTransaction(pool, async (tx) => {
    const { rows } = await tx.query<{ epoch: string }>("select epoch::text as epoch from spend_closed for share");
    if (rows[0]?.epoch !== epoch) return false;
    for (const one of days) await saveOne(tx, one);
    await saveLeverDays(
      tx,
      days.flatMap(({ day, fleet, levers }) => levers.map((own) => ({ ...own, day, fleet }))),
    );
    return true;
  });
}

async function saveOne(db: Db, one: RealisedDay): Promise<void> {
  await db.query(
    `insert into realised_day (day, fleet, always_on, before, basis, paid, projected, price_effect, covered_anyway,
       covered_anyway_projected, gap, covered)
     values ($1::date, $2::text, $3::numeric, $4::numeric, $5::text[], $6::numeric, $7::numeric, $8::numeric, $9::numeric,
       $10::numeric, $11::jsonb, $12::numeric)
     on conflict (day, fleet) do update
       set always_on = excluded.always_on, before = excluded.before, basis = excluded.basis, paid = excluded.paid,
         projected = excluded.projected, price_effect = excluded.price_effect, covered_anyway = excluded.covered_anyway,
         covered_anyway_projected = excluded.covered_anyway_projected, gap = excluded.gap, covered = excluded.covered`,
    [
      one.day,
      one.fleet,
      String(one.alwaysOn),
      one.before === null ? null : String(one.before),
      one.basis,
      String(one.paid),
      String(one.projected),
      String(one.priceEffect),
      String(one.coveredAnyway),
      String(one.coveredAnywayProjected),
      JSON.stringify(Object.fromEntries(GAP_CAUSES.map((cause) => [cause, String(one.gap[cause])]))),
      String(one.covered),
    ],
  );
}

/** Forgets what was realised by one fleet: it is reckoned anew against another basis. */
export async function forgetRealised(db: Db, fleet: string): Promise<void> {
  await db.query("delete from realised_day where fleet = $1::text", [fleet]);
  await db.query("update lever_day set saved = null where fleet = $1::text", [fleet]);
}

/** An action of a round, from when it was recorded until the provider confirmed it or it ended. */
export type ActionSpan = Readonly<{ resourceId: string; from: Instant; to: Instant; isTroubled: boolean }>;
const ACTIONS_MAX = 1_000_000;

/** The actions that were under way in `[from, to)`; `isTroubled`: it did not go through at once. */
export async function actionSpans(db: Db, { from, to }: { from: Instant; to: Instant }): Promise<ActionSpan[]> {
  const { rows } = await db.query<ActionSpan>(
    `select resource_id as "resourceId", recorded_at as "from", coalesce(ended_at, to_timestamp($2::double precision)) as "to",
       attempts > 1 or status in ('refused', 'failed', 'given up') as "isTroubled"
     from action
     where recorded_at < to_timestamp($2::double precision)
       and coalesce(ended_at, to_timestamp($2::double precision)) >= to_timestamp($1::double precision)
     order by id
     limit ${ACTIONS_MAX + 1}`,
    [from, to],
  );
  return whole(rows, { most: ACTIONS_MAX, what: "actions of a day" });
}
