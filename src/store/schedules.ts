import { type Schedule, scheduleSchema, scheduleToFile } from "@/core/hours";
import type { Db } from "./pool";

export async function scheduleList(db: Db): Promise<Schedule[]> {
  const { rows } = await db.query<{ body: unknown }>("select body from schedule order by name limit 10000");
  return rows.map(({ body }) => scheduleSchema.parse(body));
}

/** Writes a schedule under its name, new or changed. */
export async function saveSchedule(db: Db, schedule: Schedule): Promise<void> {
  await db.query(
    `insert into schedule as s (name, body)
     values ($1::text, $2::jsonb)
     on conflict (name) do update set body = excluded.body, version = s.version + 1
     where s.body is distinct from excluded.body`,
    [schedule.name, JSON.stringify(scheduleToFile(schedule))],
  );
}

/** True when there was one. */
export async function removeScheduleNamed(db: Db, name: string): Promise<boolean> {
  const { rowCount } = await db.query("delete from schedule where name = $1::text", [name]);
  return rowCount === 1;
}
