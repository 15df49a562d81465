import { type Schedule, scheduleSchema, scheduleToFile } from "@/core/hours";
import { type Changed, keepVersion } from "./hours-versions";
import type { Db } from "./pool";
import { whole } from "./whole";

export async function scheduleList(db: Db): Promise<Schedule[]> {
  const { rows } = await db.query<{ body: unknown }>("select body from schedule order by name limit 10001");
  whole(rows, { most: 10_000, what: "schedules" });
  return rows.map(({ body }) => scheduleSchema.parse(body));
}

/** Writes a schedule under its name, new or changed, and keeps it as a version. */
export async function saveSchedule(db: Db, schedule: Schedule, changed: Changed): Promise<void> {
  const body = scheduleToFile(schedule);
  const { rowCount } = await db.query(
    `insert into schedule as s (name, body)
     values ($1::text, $2::jsonb)
     on conflict (name) do update set body = excluded.body, version = s.version + 1
     where s.body is distinct from excluded.body`,
    [schedule.name, JSON.stringify(body)],
  );
  if (rowCount) await keepVersion(db, "schedule", { ...changed, name: schedule.name, body });
}

/** True when there was one. */
export async function removeScheduleNamed(db: Db, name: string, changed: Changed): Promise<boolean> {
  const { rowCount } = await db.query("delete from schedule where name = $1::text", [name]);
  if (rowCount) await keepVersion(db, "schedule", { ...changed, name, body: null });
  return rowCount === 1;
}
