import type { Instant } from "@/core/time";
import type { Db } from "./pool";

/** Stops that a person says yes to, each by itself, until an instant. `roundId` is the held round; null for a plan that was confirmed. */
export type ApprovedStops = Readonly<{
  resourceIds: readonly string[];
  roundId: number | null;
  person: string;
  at: Instant;
  until: Instant;
}>;

export async function saveApprovedStops(db: Db, { resourceIds, roundId, person, at, until }: ApprovedStops): Promise<void> {
  if (resourceIds.length === 0) return;
  await db.query(
    `insert into let_go (resource_id, round_id, person, at, until)
     select id, $2::integer, $3::text, to_timestamp($4::double precision), to_timestamp($5::double precision)
     from unnest($1::text[]) as id`,
    [resourceIds, roundId, person, at, until],
  );
}

/** The resources whose stop a person has said yes to, as of an instant. */
export async function approvedStops(db: Db, at: Instant): Promise<Set<string>> {
  const { rows } = await db.query<{ id: string }>(
    `select distinct resource_id as id
     from let_go
     where at <= to_timestamp($1::double precision) and until >= to_timestamp($1::double precision)`,
    [at],
  );
  return new Set(rows.map(({ id }) => id));
}

/** What a round held back, to the machine. */
export async function heldBy(db: Db, roundId: number): Promise<string[]> {
  const { rows } = await db.query<{ id: string }>(
    `select resource_id as id
     from (
       select distinct on (resource_id) resource_id, verdict
       from decision
       where round_id <= $1::integer and not is_rehearsal
       order by resource_id, round_id desc, id desc
     ) as held
     where verdict = 'braked'`,
    [roundId],
  );
  return rows.map(({ id }) => id);
}
