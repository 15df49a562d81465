import type { Db } from "./pool";

export const STAMPS = [
  "resources",
  "versions",
  "prices",
  "changes",
  "plans",
  "holds",
  "spend",
  "rules",
  "price removals",
] as const;
export type StampName = (typeof STAMPS)[number];

/**
 * The counters of what may change, as one reading; `horizon` is the oldest transaction that may still
 * change a row unseen by whoever reads now. Read first: what is read afterwards is at least as new.
 */
export type Stamps = Readonly<Record<StampName, string> & { horizon: string }>;

export async function readStamps(db: Db): Promise<Stamps> {
  const { rows } = await db.query<{ name: StampName; n: string; horizon: string }>(
    "select name, n::text as n, pg_snapshot_xmin(pg_current_snapshot())::text as horizon from stamp",
  );
  const stamps = Object.fromEntries(rows.map(({ name, n }) => [name, n])) as Record<StampName, string>;
  return { ...stamps, horizon: rows[0]?.horizon ?? "0" };
}

/** Some stamps as one text: what is kept under it holds until one of them moves. */
export function stampKey(stamps: Stamps, names: readonly StampName[]): string {
  return names.map((name) => stamps[name]).join(" ");
}
