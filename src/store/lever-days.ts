import type { DayLever, LeverDay } from "@/core/levers";
import type { Amount } from "@/core/pricing";
import type { Db } from "./pool";
import { whole } from "./whole";

/** What a lever of a fleet saved on a day, as it is stored. */
export type StoredLeverDay = Readonly<LeverDay & { day: string; fleet: string }>;

const DAYS_MAX = 1_000_000;

type Row = {
  day: string;
  fleet: string;
  lever: DayLever;
  saved: string;
  p5: string | null;
  p50: string | null;
  p95: string | null;
};

/** What levers saved on days that are closed, both days included; of one fleet, or of all. */
export async function leverDays(
  db: Db,
  { from, to, fleet = null }: Readonly<{ from: string; to: string; fleet?: string | null }>,
): Promise<StoredLeverDay[]> {
  const { rows } = await db.query<Row>(
    `select day, fleet, lever, saved::text as saved, p5::text as p5, p50::text as p50, p95::text as p95
     from lever_day
     where day between $1::date and $2::date and saved is not null and ($3::text is null or fleet = $3::text)
     order by day, fleet, lever
     limit ${DAYS_MAX + 1}`,
    [from, to, fleet],
  );
  return whole(rows, { most: DAYS_MAX, what: "days of levers" }).map(({ day, fleet, lever, saved, p5, p50, p95 }) => ({
    day,
    fleet,
    lever,
    saved: BigInt(saved) as Amount,
    forecast:
      p5 === null || p50 === null || p95 === null
        ? null
        : { p5: BigInt(p5) as Amount, p50: BigInt(p50) as Amount, p95: BigInt(p95) as Amount },
  }));
}

/** Stores what levers saved in place of what was stored of it. A forecast that is there stays as it was made. */
export async function saveLeverDays(db: Db, days: readonly StoredLeverDay[]): Promise<void> {
  if (days.length === 0) return;
  const text = (amount: bigint | undefined) => (amount === undefined ? null : String(amount));
  await db.query(
    `insert into lever_day (day, fleet, lever, saved, p5, p50, p95)
     select day, fleet, lever, saved, p5, p50, p95
     from unnest($1::date[], $2::text[], $3::text[], $4::numeric[], $5::numeric[], $6::numeric[], $7::numeric[])
       as line (day, fleet, lever, saved, p5, p50, p95)
     on conflict (day, fleet, lever) do update
       set saved = excluded.saved, p5 = coalesce(lever_day.p5, excluded.p5), p50 = coalesce(lever_day.p50, excluded.p50),
         p95 = coalesce(lever_day.p95, excluded.p95)`,
    [
      days.map(({ day }) => day),
      days.map(({ fleet }) => fleet),
      days.map(({ lever }) => lever),
      days.map(({ saved }) => String(saved)),
      days.map(({ forecast }) => text(forecast?.p5)),
      days.map(({ forecast }) => text(forecast?.p50)),
      days.map(({ forecast }) => text(forecast?.p95)),
    ],
  );
}

/** Opens days again from one on: what was saved is reckoned anew, what was foretold stays. */
export async function openLeverDays(db: Db, from: string): Promise<void> {
  await db.query("update lever_day set saved = null where day >= $1::date and saved is not null", [from]);
}
