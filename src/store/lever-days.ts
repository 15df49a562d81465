import type { DayLever, LeverDay } from "@/core/levers";
import type { Amount } from "@/core/pricing";
import type { Percentile } from "@/core/projection";
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

/** What is foretold of a day's levers; null: nothing can be said. */
export type Forecasts = Readonly<Partial<Record<DayLever, Percentile | null>>>;

/** Keeps what a day's levers are foretold to save, before it is known what they did. What was foretold before stays. */
export async function keepForecasts(
  db: Db,
  { day, fleet, forecasts }: Readonly<{ day: string; fleet: string; forecasts: Forecasts }>,
): Promise<void> {
  const told = (Object.entries(forecasts) as [DayLever, Percentile | null][]).flatMap(([lever, own]) =>
    own ? [{ lever, own }] : [],
  );
  await db.query(
    `insert into lever_day (day, fleet, lever, p5, p50, p95)
     select $1::date, $2::text, lever, p5, p50, p95
     from unnest($3::text[], $4::numeric[], $5::numeric[], $6::numeric[]) as line (lever, p5, p50, p95)
     on conflict (day, fleet, lever) do nothing`,
    [
      day,
      fleet,
      told.map(({ lever }) => lever),
      ...(["p5", "p50", "p95"] as const).map((part) => told.map(({ own }) => String(own[part]))),
    ],
  );
}

/** Opens days again from one on: what was saved is reckoned anew, what was foretold stays. */
export async function openLeverDays(db: Db, from: string): Promise<void> {
  await db.query("update lever_day set saved = null where day >= $1::date and saved is not null", [from]);
}
