import type { Db } from "./pool";

/** Tables that are cut by month; each has a date or instant as its key of time. */
export const MONTHLY = ["metric_day", "spend_day", "usage_line"] as const;
export type Monthly = (typeof MONTHLY)[number];

/** Makes the partitions of some months (`YYYY-MM`) that are missing. */
export async function ensureMonths(db: Db, table: Monthly, months: Iterable<string>): Promise<void> {
  for (const month of new Set(months)) {
    if (!/^\d{4}-\d\d$/.test(month)) throw new Error(`month ${month}`);
    await db.query(
      `create table if not exists ${partitionOf(table, month)} partition of ${table} for values from ('${month}-01') to ('${monthAfter(month)}-01')`,
    );
  }
}

/** `2027-03` to `2027-04`; negative counts go back. */
export function monthAfter(month: string, count = 1): string {
  return new Date(Date.UTC(Number(month.slice(0, 4)), Number(month.slice(5)) - 1 + count, 1)).toISOString().slice(0, 7);
}

function partitionOf(table: Monthly, month: string): string {
  return `${table}_${month.replace("-", "_")}`;
}

/** The months a table has partitions for, oldest first. */
export async function monthsOf(db: Db, table: Monthly): Promise<string[]> {
  const { rows } = await db.query<{ name: string }>(
    `select c.relname as name
     from pg_inherits i
     join pg_class c on c.oid = i.inhrelid
     where i.inhparent = $1::text::regclass
     order by c.relname
     limit 10000`,
    [table],
  );
  return rows.map(({ name }) => name.slice(table.length + 1).replace("_", "-"));
}

/** Drops a month and everything in it. */
export async function dangerouslyDropMonth(db: Db, table: Monthly, month: string): Promise<void> {
  if (!/^\d{4}-\d\d$/.test(month)) throw new Error(`month ${month}`);
  await db.query(`drop table if exists ${partitionOf(table, month)}`);
}
