import type { PricePoint } from "@/core/pricing";
import type { Instant } from "@/core/time";
import type { Db } from "./pool";
import { whatIsPriced } from "./prices";

/** What stood by hand in a place that a file wrote to. */
type Before = Readonly<{ rate: string | null; coresMin: number; person: string }> | null;
type Line = Readonly<{ point: PricePoint; before: Before }>;

/** A file of prices that was taken in. */
export type PriceImport = Readonly<{ id: number; at: Instant; person: string; lines: number }>;

const KEY = "provider, region, item, size, os, purchase, class, zone, source, valid_from";

const KEYS = `unnest($1::text[], $2::text[], $3::text[], $4::text[], $5::text[], $6::text[], $7::text[], $8::text[], $9::text[],
    $10::double precision[])
  with ordinality as line (provider, region, item, size, os, purchase, class, zone, source, valid_from, i)`;

function keysOf(points: readonly PricePoint[]): unknown[] {
  return [...whatIsPriced(points), points.map(({ source }) => source), points.map(({ validFrom }) => validFrom)];
}

type Standing = { i: number; rate: string | null; cores_min: number | null; person: string | null; is_there: boolean };

async function standing(db: Db, points: readonly PricePoint[]): Promise<Before[]> {
  const { rows } = await db.query<Standing>(
    `select line.i::integer, p.rate::text as rate, p.cores_min, p.person, p.source is not null as is_there
     from ${KEYS}
     left join price p on (p.provider, p.region, p.item, p.size, p.os, p.purchase, p.class, p.zone, p.source)
         = (line.provider, line.region, line.item, line.size, line.os, line.purchase, line.class, line.zone, line.source)
       and p.valid_from = to_timestamp(line.valid_from)
     order by line.i`,
    keysOf(points),
  );
  return rows.map(({ rate, cores_min, person, is_there }) =>
    is_there ? { rate, coresMin: cores_min ?? 0, person: person ?? "" } : null,
  );
}

/** Notes a file that is about to be taken in, with what it writes over. To be called in the transaction that takes it in. */
export async function notePriceImport(
  db: Db,
  points: readonly PricePoint[],
  { person, at }: { person: string; at: Instant },
): Promise<number> {
  const before = await standing(db, points);
  const lines = points.map((point, i): Line => ({ point, before: before[i] ?? null }));
  const { rows } = await db.query<{ id: number }>(
    `insert into price_import (at, person, lines) values (to_timestamp($1::double precision), $2::text, $3::jsonb) returning id`,
    [at, person, JSON.stringify(lines)],
  );
  return (rows[0] as { id: number }).id;
}

/** The last file that was taken in and not taken back; null where there is none. */
export async function lastPriceImport(db: Db): Promise<PriceImport | null> {
  const { rows } = await db.query<PriceImport>(
    `select id, at, person, jsonb_array_length(lines) as lines
     from price_import
     where undone_at is null
     order by id desc
     limit 1`,
  );
  return rows[0] ?? null;
}

/** From when on the lines of a file count; null where there is no such file that was not taken back. */
export async function startOfPriceImport(db: Db, id: number): Promise<Instant | null> {
  const { rows } = await db.query<{ first: number | null }>(
    `select min((line -> 'point' ->> 'validFrom')::double precision) as first
     from price_import, jsonb_array_elements(lines) as line
     where id = $1::integer and undone_at is null`,
    [id],
  );
  return rows[0]?.first ?? null;
}

export type TakenBack = Readonly<{ back: number; kept: number }>;

/**
 * Takes a file back: each place is as it was before, but for those that somebody has set otherwise since, which are
 * kept. Null where it was taken back before, or there is none.
 */
export async function undoPriceImport(
  db: Db,
  id: number,
  { person, at }: { person: string; at: Instant },
): Promise<TakenBack | null> {
  const { rows } = await db.query<{ lines: Line[] }>(
    `update price_import set undone_at = to_timestamp($2::double precision), undone_by = $3::text
     where id = $1::integer and undone_at is null
     returning lines`,
    [id, at, person],
  );
  const [found] = rows;
  if (!found) return null;
  const now = await standing(
    db,
    found.lines.map(({ point }) => point),
  );
  const mine = found.lines.filter(({ point }, i) => {
    const stands = now[i];
    return stands && Number(stands.rate) === Number(point.rate) && stands.coresMin === point.coresMin;
  });
  const points = mine.map(({ point }) => point);
  await db.query(
    `delete from price where (${KEY}) in (
       select line.provider, line.region, line.item, line.size, line.os, line.purchase, line.class, line.zone, line.source,
         to_timestamp(line.valid_from)
       from ${KEYS})`,
    keysOf(points),
  );
  const restored = mine.flatMap(({ point, before }) => (before ? [{ point, before }] : []));
  await db.query(
    `insert into price (provider, region, item, size, os, purchase, class, zone, source, valid_from, rate, cores_min, person)
     select line.provider, line.region, line.item, line.size, line.os, line.purchase, line.class, line.zone, line.source,
       to_timestamp(line.valid_from), was.rate::numeric, was.cores_min, was.person
     from ${KEYS}
     join unnest($11::text[], $12::integer[], $13::text[]) with ordinality as was (rate, cores_min, person, i) on was.i = line.i`,
    [
      ...keysOf(restored.map(({ point }) => point)),
      restored.map(({ before }) => before.rate),
      restored.map(({ before }) => before.coresMin),
      restored.map(({ before }) => before.person),
    ],
  );
  return { back: mine.length, kept: found.lines.length - mine.length };
}
