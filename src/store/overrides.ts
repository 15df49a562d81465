import type { Level } from "@/core/hours";
import { OVERRIDE_KINDS, OVERRIDES, type Override, type OverrideKind } from "@/core/rounds";
import type { Instant } from "@/core/time";
import type { Db } from "./pool";
import { whole } from "./whole";

/** A hold with who placed it and on what, by name. */
export type StoredOverride = Override & Readonly<{ name: string; person: string; releasedAt: Instant | null }>;

export type OverrideRow = {
  id: number;
  resource_id: string | null;
  fleet: string | null;
  name: string;
  level: Level;
  from_at: Instant;
  to_at: Instant;
  reason: string;
  person: string;
  released_at: Instant | null;
  kind: OverrideKind;
  rule_key: string | null;
  off_action: Override["offAction"];
};

/** A row of `OVERRIDE_COLUMNS` as what it stands for. */
export function overrideOf(row: OverrideRow): StoredOverride {
  return {
    id: row.id,
    resourceId: row.resource_id,
    fleet: row.fleet,
    name: row.name,
    level: row.level,
    from: row.from_at,
    to: row.to_at,
    reason: row.reason,
    person: row.person,
    releasedAt: row.released_at,
    kind: row.kind,
    ruleKey: row.rule_key,
    offAction: row.off_action,
  };
}

/** What is read of an override `h` and its resource `r`. */
export const OVERRIDE_COLUMNS = `h.id, h.resource_id, h.fleet, coalesce(r.name, h.fleet) as name, h.level, h.from_at, h.to_at, h.reason,
  h.person, h.released_at, h.kind, h.rule_key, h.off_action`;

/** An office that empties trips as many as it has desks, every evening. */
const HOLDS_MAX = 1_000_000;

/** Those that are in effect at an instant or will be, the last placed first. */
export async function overridesFrom(db: Db, at: Instant): Promise<StoredOverride[]> {
  const { rows } = await db.query<OverrideRow>(
    `select ${OVERRIDE_COLUMNS}
     from override h
     left join resource r on r.id = h.resource_id
     where h.released_at is null and h.to_at > to_timestamp($1::double precision)
     order by h.id desc
     limit $2::integer`,
    [at, HOLDS_MAX + 1],
  );
  whole(rows, { most: HOLDS_MAX, what: "holds" });
  return rows.map(overrideOf);
}

/** Those of one resource and its fleet that were or are in effect around an instant, as they then stood: one released later still counts up to its release. */
export async function overridesAround(
  db: Db,
  { resourceId, fleet, at }: { resourceId: string; fleet: string | null; at: Instant },
): Promise<StoredOverride[]> {
  const { rows } = await db.query<OverrideRow>(
    `select h.id, h.resource_id, h.fleet, coalesce(r.name, h.fleet) as name, h.level, h.from_at,
       least(h.to_at, coalesce(h.released_at, h.to_at)) as to_at, h.reason, h.person, h.released_at, h.kind, h.rule_key, h.off_action
     from override h
     left join resource r on r.id = h.resource_id
     where (h.resource_id = $1::text or h.fleet = $2::text)
       and least(h.to_at, coalesce(h.released_at, h.to_at)) > greatest(h.from_at, to_timestamp($3::double precision))
     order by h.id desc
     limit 1001`,
    [resourceId, fleet, at],
  );
  whole(rows, { most: 1_000, what: "holds on one thing" });
  return rows.map(overrideOf);
}

/** Those that were or are in effect somewhere in `[from, to)`, as they then stood: one released early ends at its release. */
export async function overridesBetween(db: Db, { from, to }: { from: Instant; to: Instant }): Promise<StoredOverride[]> {
  const { rows } = await db.query<OverrideRow>(
    `select h.id, h.resource_id, h.fleet, coalesce(r.name, h.fleet) as name, h.level, h.from_at,
       least(h.to_at, coalesce(h.released_at, h.to_at)) as to_at, h.reason, h.person, h.released_at, h.kind, h.rule_key, h.off_action
     from override h
     left join resource r on r.id = h.resource_id
     where h.from_at < to_timestamp($2::double precision)
       and least(h.to_at, coalesce(h.released_at, h.to_at)) > greatest(h.from_at, to_timestamp($1::double precision))
     order by h.id desc
     limit $3::integer`,
    [from, to, HOLDS_MAX + 1],
  );
  whole(rows, { most: HOLDS_MAX, what: "holds" });
  return rows.map(overrideOf);
}

/** Those in effect at an instant that is past, as they were known then: one released later still had its whole end before it. */
export async function overridesKnownAt(db: Db, at: Instant): Promise<StoredOverride[]> {
  const { rows } = await db.query<OverrideRow>(
    `select ${OVERRIDE_COLUMNS}
     from override h
     left join resource r on r.id = h.resource_id
     where h.from_at <= to_timestamp($1::double precision) and h.to_at > to_timestamp($1::double precision)
       and (h.released_at is null or h.released_at > to_timestamp($1::double precision))
     order by h.id desc
     limit $2::integer`,
    [at, HOLDS_MAX + 1],
  );
  whole(rows, { most: HOLDS_MAX, what: "holds" });
  return rows.map(overrideOf);
}

/** The last that ended or were released, newest first; idle trips, of which there are many, stand with their alarms. */
export async function endedOverrides(db: Db, at: Instant): Promise<StoredOverride[]> {
  const { rows } = await db.query<OverrideRow>(
    `select ${OVERRIDE_COLUMNS}
     from override h
     left join resource r on r.id = h.resource_id
     where h.kind = any ($2::text[]) and (h.released_at is not null or h.to_at <= to_timestamp($1::double precision))
     order by coalesce(h.released_at, h.to_at) desc, h.id desc
     limit 20`,
    [at, OVERRIDE_KINDS.filter((kind) => OVERRIDES[kind].isMarked)],
  );
  return rows.map(overrideOf);
}

export type NewHold = Readonly<
  Pick<Override, "resourceId" | "fleet" | "level" | "from" | "to" | "reason"> & { person: string; ruleKey?: string }
>;

/**
 * Returns the new hold's number, or that of one just like it that the same person placed within `sameWithinS`
 * seconds and nobody released: a second press is the first. To be called in a transaction.
 */
export async function addHold(db: Db, hold: NewHold, sameWithinS: number): Promise<number> {
  await db.query("select pg_advisory_xact_lock(hashtext('hold ' || coalesce($1::text, '') || ' ' || coalesce($2::text, '')))", [
    hold.resourceId,
    hold.fleet,
  ]);
  const same = await db.query<{ id: number }>(
    `select id
     from override
     where kind = 'hold' and resource_id is not distinct from $1::text and fleet is not distinct from $2::text and level = $3::integer
       and reason = $6::text and person = $7::text and released_at is null
       and abs(extract(epoch from from_at) - $4::double precision) <= $8::double precision
       and abs(extract(epoch from to_at) - $5::double precision) <= $8::double precision
     order by id desc
     limit 1`,
    [hold.resourceId, hold.fleet, hold.level, hold.from, hold.to, hold.reason, hold.person, sameWithinS],
  );
  if (same.rows[0]) return same.rows[0].id;
  const { rows } = await db.query<{ id: number }>(
    `insert into override (kind, resource_id, fleet, level, from_at, to_at, reason, person, rule_key)
     values ('hold', $1::text, $2::text, $3::integer, to_timestamp($4::double precision), to_timestamp($5::double precision),
       $6::text, $7::text, $8::text)
     returning id`,
    [hold.resourceId, hold.fleet, hold.level, hold.from, hold.to, hold.reason, hold.person, hold.ruleKey ?? null],
  );
  return (rows[0] as { id: number }).id;
}

/** True when it was in effect or to come, and is now released. */
export async function releaseHoldNow(db: Db, id: number, { person, at }: { person: string; at: Instant }): Promise<boolean> {
  const { rowCount } = await db.query(
    `update override
     set released_at = to_timestamp($2::double precision), released_by = $3::text
     where id = $1::integer and released_at is null and to_at > to_timestamp($2::double precision)`,
    [id, at, person],
  );
  return rowCount === 1;
}

/** True when it was in effect, and now ends at another instant. */
export async function setHoldEnd(db: Db, id: number, { until, at }: { until: Instant; at: Instant }): Promise<boolean> {
  const { rowCount } = await db.query(
    `update override
     set to_at = to_timestamp($2::double precision)
     where id = $1::integer and released_at is null and to_at > to_timestamp($3::double precision)`,
    [id, until, at],
  );
  return rowCount === 1;
}
