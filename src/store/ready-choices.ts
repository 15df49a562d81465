import type { Level } from "@/core/hours";
import type { Instant } from "@/core/time";
import type { Db } from "./pool";

/** A choice for one machine of a pool that differs from what its hours say of its place. */
export type NewChoice = Readonly<{ resourceId: string; level: Level; from: Instant; to: Instant; reason: string }>;

/** Keeps choices; what stood for the same machines before, run out or not, ends with them. */
export async function addChoices(db: Db, ready: readonly NewChoice[]): Promise<void> {
  if (ready.length === 0) return;
  await db.query(
    `update override h set released_at = least(h.to_at, to_timestamp(line.at)), released_by = 'ready machines'
     from unnest($1::text[], $2::double precision[]) as line (id, at)
     where h.resource_id = line.id and h.kind = 'ready' and h.released_at is null`,
    [ready.map(({ resourceId }) => resourceId), ready.map(({ from }) => from)],
  );
  await db.query(
    `insert into override (kind, resource_id, level, from_at, to_at, reason, person)
     select 'ready', id, level, to_timestamp(from_at), to_timestamp(to_at), reason, 'ready machines'
     from unnest($1::text[], $2::integer[], $3::double precision[], $4::double precision[], $5::text[])
       as line (id, level, from_at, to_at, reason)`,
    [
      ready.map(({ resourceId }) => resourceId),
      ready.map(({ level }) => level),
      ready.map(({ from }) => from),
      ready.map(({ to }) => to),
      ready.map(({ reason }) => reason),
    ],
  );
}

/** Ends choices at an instant, by their numbers. */
export async function endChoices(db: Db, ids: readonly number[], at: Instant): Promise<void> {
  if (ids.length === 0) return;
  await db.query(
    `update override set released_at = to_timestamp($2::double precision), released_by = 'ready machines'
     where id = any ($1::integer[]) and kind = 'ready' and released_at is null`,
    [ids, at],
  );
}

/** Moves the ends of choices that go on. */
export async function moveChoices(db: Db, ids: readonly number[], to: Instant): Promise<void> {
  if (ids.length === 0) return;
  await db.query(
    "update override set to_at = to_timestamp($2::double precision) where id = any ($1::integer[]) and kind = 'ready'",
    [ids, to],
  );
}
