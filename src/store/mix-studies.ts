import type { FrontierPoint, Mix, MixChoice } from "@/core/mix";
import type { Instant } from "@/core/time";
import type { Db } from "./pool";

export type MixStudy = Readonly<{
  id: number;
  fleet: string;
  mix: Mix;
  choices: readonly MixChoice[];
  days: number;
  trials: number;
  seed: number;
  askedBy: string;
  askedAt: Instant;
  cancelledAt: Instant | null;
  doneAt: Instant | null;
  /** Why it could not be brought to its end; null where it was, or still may be. */
  failure: string | null;
  points: readonly FrontierPoint[] | null;
}>;

/** Sums over a stretch's trials: cost, missing unit-hours, share of time with the floor. */
export type StudySums = readonly [cost: number, missingUnitHours: number, atLeastFloor: number];
export type StudyPart = Readonly<{ n: number; choice: number; first: number; count: number }>;

const COLUMNS = `id::double precision as id, fleet, mix, choices, days, trials, seed, asked_by as "askedBy",
  extract(epoch from asked_at)::double precision as "askedAt", extract(epoch from cancelled_at)::double precision as "cancelledAt",
  extract(epoch from done_at)::double precision as "doneAt", failure, points`;

export type NewStudy = Omit<MixStudy, "id" | "cancelledAt" | "doneAt" | "failure" | "points">;

/** Adds a study with its parts; what was under way for the same fleet is cancelled. */
export async function addStudy(db: Db, study: NewStudy, parts: readonly StudyPart[]): Promise<number> {
  await db.query(
    `update mix_study set cancelled_at = to_timestamp($2::double precision)
     where fleet = $1::text and done_at is null and cancelled_at is null`,
    [study.fleet, study.askedAt],
  );
  const { rows } = await db.query<{ id: number }>(
    `insert into mix_study (fleet, mix, choices, days, trials, seed, asked_by, asked_at)
     values ($1::text, $2::jsonb, $3::jsonb, $4::integer, $5::integer, $6::integer, $7::text, to_timestamp($8::double precision))
     returning id::double precision as id`,
    [
      study.fleet,
      JSON.stringify(study.mix),
      JSON.stringify(study.choices),
      study.days,
      study.trials,
      study.seed,
      study.askedBy,
      study.askedAt,
    ],
  );
  const { id } = rows[0] as { id: number };
  await db.query(
    `insert into mix_study_part (study_id, n, choice, first, count)
     select $1::bigint, line.n, line.choice, line.first, line.count
     from unnest($2::integer[], $3::integer[], $4::integer[], $5::integer[]) as line (n, choice, first, count)`,
    [
      id,
      parts.map(({ n }) => n),
      parts.map(({ choice }) => choice),
      parts.map(({ first }) => first),
      parts.map(({ count }) => count),
    ],
  );
  return id;
}

export async function maybeStudy(db: Db, id: number): Promise<MixStudy | null> {
  const { rows } = await db.query<MixStudy>(`select ${COLUMNS} from mix_study where id = $1::bigint`, [id]);
  return rows[0] ?? null;
}

/** The last study of a fleet, with how many of its parts are done. */
export async function lastStudy(
  db: Db,
  fleet: string,
): Promise<Readonly<{ study: MixStudy; done: number; parts: number }> | null> {
  const { rows } = await db.query<MixStudy>(`select ${COLUMNS} from mix_study where fleet = $1::text order by id desc limit 1`, [
    fleet,
  ]);
  const [study] = rows;
  if (!study) return null;
  const counts = await db.query<{ done: number; parts: number }>(
    `select count(sums)::integer as done, count(*)::integer as parts from mix_study_part where study_id = $1::bigint`,
    [study.id],
  );
  return { study, ...(counts.rows[0] as { done: number; parts: number }) };
}

/** Takes a part that nobody has, or that whoever had it gave up; null where there is none. */
export async function takePart(db: Db, study: number): Promise<StudyPart | null> {
  const { rows } = await db.query<StudyPart>(
    `update mix_study_part p set claimed_at = clock_timestamp()
     where p.study_id = $1::bigint and p.n = any (array(
       -- An array is made once. A subquery may be asked again for every row, and then takes another part each time.
       select n from mix_study_part
       where study_id = $1::bigint and sums is null
         and (claimed_at is null or claimed_at < clock_timestamp() - interval '2 minutes')
       order by n
       limit 1
       for update skip locked
     ))
     returning p.n, p.choice, p.first, p.count`,
    [study],
  );
  return rows[0] ?? null;
}

export async function savePart(db: Db, study: number, n: number, sums: StudySums): Promise<void> {
  await db.query("update mix_study_part set sums = $3::double precision[] where study_id = $1::bigint and n = $2::integer", [
    study,
    n,
    sums,
  ]);
}

/** The sums of every part, in their order; null where one is still missing. */
export async function wholeSums(db: Db, study: number): Promise<readonly Readonly<{ choice: number; sums: StudySums }>[] | null> {
  const { rows } = await db.query<{ choice: number; sums: StudySums | null }>(
    "select choice, sums from mix_study_part where study_id = $1::bigint order by n",
    [study],
  );
  const known = rows.flatMap(({ choice, sums }) => (sums ? [{ choice, sums }] : []));
  return known.length === rows.length ? known : null;
}

/** Ends a study with its points; what was cancelled, or is done, stays as it is. */
export async function endStudy(db: Db, id: number, { at, points }: Readonly<{ at: Instant; points: readonly FrontierPoint[] }>) {
  await db.query(
    `update mix_study set done_at = to_timestamp($2::double precision), points = $3::jsonb
     where id = $1::bigint and done_at is null and cancelled_at is null`,
    [id, at, JSON.stringify(points)],
  );
}

/** True while somebody waits for a study. */
export async function isStudyWanted(db: Db, id: number): Promise<boolean> {
  const { rows } = await db.query(
    "select from mix_study where id = $1::bigint and done_at is null and cancelled_at is null and failure is null",
    [id],
  );
  return rows.length === 1;
}

/** Ends a study that asks for more than there is. */
export async function failStudy(db: Db, id: number, failure: string): Promise<void> {
  await db.query(
    `update mix_study set failure = $2::text
     where id = $1::bigint and done_at is null and cancelled_at is null and failure is null`,
    [id, failure],
  );
}

/** Says that a part is still being worked on. */
export async function keepPart(db: Db, study: number, n: number): Promise<void> {
  await db.query(
    "update mix_study_part set claimed_at = clock_timestamp() where study_id = $1::bigint and n = $2::integer and sums is null",
    [study, n],
  );
}

export async function cancelStudy(db: Db, id: number, at: Instant): Promise<void> {
  await db.query(
    `update mix_study set cancelled_at = to_timestamp($2::double precision)
     where id = $1::bigint and done_at is null and cancelled_at is null`,
    [id, at],
  );
}
