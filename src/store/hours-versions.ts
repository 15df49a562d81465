import { type Calendar, calendarSchema, type Schedule, scheduleSchema } from "@/core/hours";
import type { Instant } from "@/core/time";
import type { Db } from "./pool";

/** Who made a change that counts from an instant on. */
export type Changed = Readonly<{ at: Instant; person: string }>;

/** Keeps a schedule or calendar as it is from an instant on; null: it was taken away. */
export async function keepVersion(
  db: Db,
  what: "schedule" | "calendar",
  { name, body, at, person }: Changed & Readonly<{ name: string; body: unknown }>,
): Promise<void> {
  const table = what === "schedule" ? "schedule_version" : "calendar_version";
  await db.query(
    `insert into ${table} (name, number, body, person, at)
     select $1::text, coalesce(max(number), 0) + 1, $2::jsonb, $3::text, to_timestamp($4::double precision)
     from ${table}
     where name = $1::text`,
    [name, body === null ? null : JSON.stringify(body), person, at],
  );
}

/** Schedules and calendars of one time. */
export type HoursBook = Readonly<{ schedules: readonly Schedule[]; calendars: readonly Calendar[] }>;

/** The schedules and calendars that counted at an instant, by name. */
export async function hoursBookAt(db: Db, at: Instant): Promise<HoursBook> {
  const asOf = (table: "schedule_version" | "calendar_version") =>
    db.query<{ body: unknown }>(
      `select body
       from (
         select distinct on (name) name, body
         from ${table}
         where at <= to_timestamp($1::double precision)
         order by name, number desc
       ) as last
       where body is not null
       order by name`,
      [at],
    );
  const [schedules, calendars] = await Promise.all([asOf("schedule_version"), asOf("calendar_version")]);
  return {
    schedules: schedules.rows.map(({ body }) => scheduleSchema.parse(body)),
    calendars: calendars.rows.map(({ body }) => calendarSchema.parse(body)),
  };
}

/** The instants in `[from, to)` at which a plan, a schedule or a calendar became another. */
export async function planEdges(db: Db, { from, to }: { from: Instant; to: Instant }): Promise<Instant[]> {
  const { rows } = await db.query<{ at: Instant }>(
    `select at from schedule_version where at >= to_timestamp($1::double precision) and at < to_timestamp($2::double precision)
     union
     select at from calendar_version where at >= to_timestamp($1::double precision) and at < to_timestamp($2::double precision)
     union
     select at from plan_version where at >= to_timestamp($1::double precision) and at < to_timestamp($2::double precision)
     union
     select at from fleet_order where at >= to_timestamp($1::double precision) and at < to_timestamp($2::double precision)
     order by at`,
    [from, to],
  );
  return rows.map(({ at }) => at);
}
