import { isChange, type NewOverride, type OverrideChanges, type OverrideKind } from "@/core/rounds";
import type { Instant } from "@/core/time";
import { OVERRIDE_COLUMNS, type OverrideRow, overrideOf, type StoredOverride } from "./overrides";
import type { Db } from "./pool";

/** Ends, moves and keeps overrides. One that is kept already is passed over. Returns those that are new. To be called in a transaction. */
export async function changeOverrides(db: Db, changes: OverrideChanges): Promise<StoredOverride[]> {
  if (!isChange(changes)) return [];
  for (const { ids, at, by } of changes.end) {
    if (ids.length === 0) continue;
    await db.query(
      `update override set released_at = to_timestamp($2::double precision), released_by = $3::text
       where id = any ($1::integer[]) and released_at is null`,
      [ids, at, by],
    );
  }
  if (changes.move.length > 0)
    await db.query(
      `update override o set to_at = to_timestamp(line.to_at)
       from unnest($1::integer[], $2::double precision[]) as line (id, to_at)
       where o.id = line.id and o.released_at is null`,
      [changes.move.map(({ id }) => id), changes.move.map(({ to }) => to)],
    );
  return changes.add.length === 0 ? [] : addAll(db, changes.add);
}

async function addAll(db: Db, added: readonly NewOverride[]): Promise<StoredOverride[]> {
  const choices = added.filter(({ kind }) => kind === "ready");
  // A machine has one choice at a time: what stood before, run out or not, ends with the next.
  if (choices.length > 0)
    await db.query(
      `update override o set released_at = least(o.to_at, to_timestamp(line.at)), released_by = line.by
       from unnest($1::text[], $2::double precision[], $3::text[]) as line (id, at, by)
       where o.resource_id = line.id and o.kind = 'ready' and o.released_at is null`,
      [choices.map(({ resourceId }) => resourceId), choices.map(({ from }) => from), choices.map(({ person }) => person)],
    );
  // A person's start is told of to whoever owns the machine.
  const { rows } = await db.query<OverrideRow>(
    `with added as (
       insert into override (kind, resource_id, fleet, level, from_at, to_at, reason, person, rule_key, off_action, is_told)
       select kind, resource_id, fleet, level, to_timestamp(from_at), to_timestamp(to_at), reason, person, rule_key, off_action,
         kind <> 'start'
       from unnest($1::text[], $2::text[], $3::text[], $4::integer[], $5::double precision[], $6::double precision[], $7::text[],
           $8::text[], $9::text[], $10::text[])
         as line (kind, resource_id, fleet, level, from_at, to_at, reason, person, rule_key, off_action)
       on conflict do nothing
       returning *
     )
     select ${OVERRIDE_COLUMNS}
     from added h
     left join resource r on r.id = h.resource_id
     order by h.id desc`,
    [
      added.map(({ kind }) => kind),
      added.map(({ resourceId }) => resourceId),
      added.map(({ fleet }) => fleet),
      added.map(({ level }) => level),
      added.map(({ from }) => from),
      added.map(({ to }) => to),
      added.map(({ reason }) => reason),
      added.map(({ person }) => person),
      added.map(({ ruleKey }) => ruleKey),
      added.map(({ offAction }) => offAction),
    ],
  );
  return rows.map(overrideOf);
}

/** Ends those of a kind on resources, each by whoever ended it. */
export async function endOverridesOn(
  db: Db,
  { kind, resourceIds, at, by }: Readonly<{ kind: OverrideKind; resourceIds: readonly string[]; at: Instant; by: string }>,
): Promise<void> {
  await db.query(
    `update override set released_at = to_timestamp($3::double precision), released_by = $4::text
     where kind = $1::text and resource_id = any ($2::text[]) and released_at is null and to_at > to_timestamp($3::double precision)`,
    [kind, resourceIds, at, by],
  );
}
