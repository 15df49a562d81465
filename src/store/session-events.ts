import type { Instant } from "@/core/time";
import type { Db } from "./pool";

/** The types of a provider's events that tell of people, and change no state. */
export const SESSION_EVENTS = ["sign-in", "sign-off"] as const;
export type SessionEventType = (typeof SESSION_EVENTS)[number];

export type SessionEvent = Readonly<{ resourceId: string; at: Instant; type: SessionEventType; note: string }>;

export function isSessionEvent(type: string): type is SessionEventType {
  return (SESSION_EVENTS as readonly string[]).includes(type);
}

/** Stores who signed in and off; a page stored twice changes nothing. */
export async function saveSessionEvents(
  db: Db,
  account: string,
  events: readonly (SessionEvent & { n: number })[],
): Promise<void> {
  if (events.length === 0) return;
  await db.query(
    `insert into session_event (account, n, resource_id, at, type, note)
     select $1::text, n, resource_id, to_timestamp(at), type, note
     from unnest($2::bigint[], $3::text[], $4::double precision[], $5::text[], $6::text[]) as line (n, resource_id, at, type, note)
     on conflict do nothing`,
    [
      account,
      events.map(({ n }) => n),
      events.map(({ resourceId }) => resourceId),
      events.map(({ at }) => at),
      events.map(({ type }) => type),
      events.map(({ note }) => note),
    ],
  );
}

/** The last that was told of each of some resources since an instant. */
export async function lastSessionEvents(db: Db, ids: readonly string[], since: Instant): Promise<Map<string, SessionEvent>> {
  const { rows } = await db.query<SessionEvent>(
    `select distinct on (resource_id) resource_id as "resourceId", at, type, note
     from session_event
     where resource_id = any ($1::text[]) and at > to_timestamp($2::double precision)
     order by resource_id, at desc, n desc`,
    [ids, since],
  );
  return new Map(rows.map((event) => [event.resourceId, event]));
}

export async function dropSessionEvents(db: Db, before: Instant): Promise<void> {
  await db.query("delete from session_event where at < to_timestamp($1::double precision)", [before]);
}
