import type { Instant } from "@/core/time";
import type { Db } from "./pool";
import { whole } from "./whole";

type Span = Readonly<{ from: Instant; to: Instant }>;

const SPANS_MAX = 200_000;

/** When some resources had their first idle trip, by resource. */
export async function firstTrips(db: Db, ids: readonly string[]): Promise<Map<string, Instant>> {
  const { rows } = await db.query<{ resourceId: string; first: number }>(
    `select resource_id as "resourceId", extract(epoch from min(from_at))::double precision as first
     from override where kind = 'trip' and resource_id = any ($1::text[]) group by resource_id`,
    [ids],
  );
  return new Map(rows.map(({ resourceId, first }) => [resourceId, first]));
}

/** When idle trips had some resources off within `[from, to)`, in order of time; by resource. */
export async function tripSpans(
  db: Db,
  { ids, from, to }: Readonly<{ ids: readonly string[] }> & Span,
): Promise<Map<string, readonly Span[]>> {
  const { rows } = await db.query<Span & { resourceId: string }>(
    `select resource_id as "resourceId", extract(epoch from from_at)::double precision as "from",
       extract(epoch from least(to_at, coalesce(released_at, to_at), to_timestamp($3::double precision)))::double precision as "to"
     from override
     where kind = 'trip' and resource_id = any ($1::text[]) and from_at < to_timestamp($3::double precision)
       and least(to_at, coalesce(released_at, to_at)) > to_timestamp($2::double precision)
     order by from_at
     limit $4::integer`,
    [ids, from, to, SPANS_MAX + 1],
  );
  const byId = new Map<string, Span[]>();
  for (const { resourceId, ...span } of whole(rows, { most: SPANS_MAX, what: "idle trips" })) {
    const own = byId.get(resourceId);
    if (own) own.push(span);
    else byId.set(resourceId, [span]);
  }
  return byId;
}
