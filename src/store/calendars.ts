import { z } from "zod";
import { type Calendar, calendarSchema } from "@/core/hours";
import { type Changed, keepVersion } from "./hours-versions";
import type { Db } from "./pool";
import { whole } from "./whole";

/** A calendar with the names of its days, for reading, and a version that counts every write. */
export type StoredCalendar = Readonly<{ calendar: Calendar; dayNames: Readonly<Record<string, string>>; version: number }>;

type Row = { body: unknown; day_names: unknown; version: number };

const dayNamesSchema = z.record(z.string(), z.string());

function calendarOf({ body, day_names, version }: Row): StoredCalendar {
  return { calendar: calendarSchema.parse(body), dayNames: dayNamesSchema.parse(day_names), version };
}

export async function storedCalendarList(db: Db): Promise<StoredCalendar[]> {
  const { rows } = await db.query<Row>("select body, day_names, version from calendar order by name limit 10001");
  whole(rows, { most: 10_000, what: "calendars" });
  return rows.map(calendarOf);
}

export async function calendarList(db: Db): Promise<Calendar[]> {
  return (await storedCalendarList(db)).map(({ calendar }) => calendar);
}

export async function maybeCalendar(db: Db, name: string): Promise<StoredCalendar | null> {
  const { rows } = await db.query<Row>("select body, day_names, version from calendar where name = $1::text", [name]);
  return rows[0] ? calendarOf(rows[0]) : null;
}

/** Writes a calendar if nobody else wrote since `version` (0: it is new); its new version, or null when somebody did. */
export async function writeCalendar(
  db: Db,
  { calendar, dayNames, version }: StoredCalendar,
  changed: Changed,
): Promise<number | null> {
  const values = [calendar.name, JSON.stringify(calendar), JSON.stringify(dayNames)];
  const { rows } =
    version === 0
      ? await db.query<{ version: number }>(
          `insert into calendar (name, body, day_names)
           values ($1::text, $2::jsonb, $3::jsonb)
           on conflict (name) do nothing
           returning version`,
          values,
        )
      : await db.query<{ version: number }>(
          `update calendar
           set body = $2::jsonb, day_names = $3::jsonb, version = version + 1
           where name = $1::text and version = $4::integer
           returning version`,
          [...values, version],
        );
  if (rows[0]) await keepVersion(db, "calendar", { ...changed, name: calendar.name, body: calendar });
  return rows[0]?.version ?? null;
}

/** Writes a calendar under its name, new or changed; names of days stay. */
export async function putCalendar(db: Db, calendar: Calendar, changed: Changed): Promise<void> {
  const { rowCount } = await db.query(
    `insert into calendar as c (name, body)
     values ($1::text, $2::jsonb)
     on conflict (name) do update set body = excluded.body, version = c.version + 1
     where c.body is distinct from excluded.body`,
    [calendar.name, JSON.stringify(calendar)],
  );
  if (rowCount) await keepVersion(db, "calendar", { ...changed, name: calendar.name, body: calendar });
}

/** True when it was there at that version. */
export async function removeCalendarAt(
  db: Db,
  { name, version }: { name: string; version: number },
  changed: Changed,
): Promise<boolean> {
  const { rowCount } = await db.query("delete from calendar where name = $1::text and version = $2::integer", [name, version]);
  if (rowCount) await keepVersion(db, "calendar", { ...changed, name, body: null });
  return rowCount === 1;
}
