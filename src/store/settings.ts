import type { z } from "zod";
import type { Db } from "./pool";

/** A setting by its name; null where nobody has set it. Throws where what is stored is not of its shape. */
export async function maybeSetting<T extends z.ZodType>(db: Db, name: string, schema: T): Promise<z.output<T> | null> {
  const { rows } = await db.query<{ value: unknown }>("select value from setting where name = $1::text", [name]);
  return rows[0] ? schema.parse(rows[0].value) : null;
}

export async function saveSetting(db: Db, name: string, value: unknown): Promise<void> {
  await db.query(
    `insert into setting (name, value)
     values ($1::text, $2::jsonb)
     on conflict (name) do update set value = excluded.value`,
    [name, JSON.stringify(value)],
  );
}

/** Sets it where nobody has yet; what stands then, whoever set it. */
export async function settleSetting<T extends z.ZodType>(
  db: Db,
  name: string,
  { value, schema }: { value: z.input<T>; schema: T },
): Promise<z.output<T>> {
  await db.query("insert into setting (name, value) values ($1::text, $2::jsonb) on conflict (name) do nothing", [
    name,
    JSON.stringify(value),
  ]);
  const stored = await maybeSetting(db, name, schema);
  if (stored === null) throw new Error(`setting ${name} was just written`);
  return stored;
}
