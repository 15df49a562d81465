import type { Instant } from "@/core/time";
import type { Db } from "./pool";

/** An idle trip, to be kept as an override at off. */
export type NewTrip = Readonly<{
  resourceId: string;
  /** The idle rule that tripped. */
  ruleKey: string;
  offAction: "stop" | "hibernate";
  from: Instant;
  to: Instant;
  reason: string;
}>;

/** Keeps trips; one that is kept already is passed over. */
export async function addTrips(db: Db, trips: readonly NewTrip[]): Promise<void> {
  if (trips.length === 0) return;
  await db.query(
    `insert into override (kind, resource_id, level, from_at, to_at, reason, person, rule_key, off_action)
     select 'trip', id, 0, to_timestamp(from_at), to_timestamp(to_at), reason, 'an idle alarm', rule_key, off_action
     from unnest($1::text[], $2::double precision[], $3::double precision[], $4::text[], $5::text[], $6::text[])
       as line (id, from_at, to_at, reason, rule_key, off_action)
     on conflict do nothing`,
    [
      trips.map(({ resourceId }) => resourceId),
      trips.map(({ from }) => from),
      trips.map(({ to }) => to),
      trips.map(({ reason }) => reason),
      trips.map(({ ruleKey }) => ruleKey),
      trips.map(({ offAction }) => offAction),
    ],
  );
}

/** Ends the trips of resources, each by what ended it. Returns how many ended. */
export async function endTrips(db: Db, ids: readonly string[], { at, by }: { at: Instant; by: string }): Promise<number> {
  if (ids.length === 0) return 0;
  const { rowCount } = await db.query(
    `update override set released_at = to_timestamp($2::double precision), released_by = $3::text
     where kind = 'trip' and released_at is null and resource_id = any ($1::text[])
       and to_at > to_timestamp($2::double precision)`,
    [ids, at, by],
  );
  return rowCount ?? 0;
}

/** Moves the ends of trips that are in effect: the hours they last to may have changed. */
export async function moveTrips(db: Db, ends: readonly Readonly<{ id: number; to: Instant }>[]): Promise<void> {
  if (ends.length === 0) return;
  await db.query(
    `update override h set to_at = to_timestamp(line.to_at)
     from unnest($1::integer[], $2::double precision[]) as line (id, to_at)
     where h.id = line.id and h.kind = 'trip' and h.released_at is null`,
    [ends.map(({ id }) => id), ends.map(({ to }) => to)],
  );
}

/** For each fleet, its trips of the hour before an instant and the most in any hour of the 28 days before that hour. */
export async function tripCounts(db: Db, at: Instant): Promise<Map<string, { ofHour: number; most: number }>> {
  const { rows } = await db.query<{ fleet: string; hour: number; n: number }>(
    `select fleet, floor(extract(epoch from to_timestamp($1::double precision) - at) / 3600)::integer as hour, count(*)::integer as n
     from alarm_change
     where state = 'tripped' and at <= to_timestamp($1::double precision)
       and at > to_timestamp($1::double precision) - interval '28 days 1 hour'
     group by 1, 2`,
    [at],
  );
  const counts = new Map<string, { ofHour: number; most: number }>();
  for (const { fleet, hour, n } of rows) {
    const own = counts.get(fleet) ?? { ofHour: 0, most: 0 };
    counts.set(fleet, hour === 0 ? { ...own, ofHour: n } : { ...own, most: Math.max(own.most, n) });
  }
  return counts;
}
