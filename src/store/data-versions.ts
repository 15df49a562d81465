import type { Db } from "./pool";

export const DATA_VERSIONS = [
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
export type DataVersionName = (typeof DATA_VERSIONS)[number];

/**
 * The counters of what may change, as one reading; `horizon` is the oldest transaction that may still
 * change a row unseen by whoever reads now. Read first: what is read afterwards is at least as new.
 */
export type DataVersions = Readonly<Record<DataVersionName, string> & { horizon: string }>;

export async function readDataVersions(db: Db): Promise<DataVersions> {
  const { rows } = await db.query<{ name: DataVersionName; n: string; horizon: string }>(
    "select name, n::text as n, pg_snapshot_xmin(pg_current_snapshot())::text as horizon from data_version",
  );
  const versions = Object.fromEntries(rows.map(({ name, n }) => [name, n])) as Record<DataVersionName, string>;
  return { ...versions, horizon: rows[0]?.horizon ?? "0" };
}

/** Some versions as one text: what is kept under it holds until one of them moves. */
export function dataVersionKey(versions: DataVersions, names: readonly DataVersionName[]): string {
  return names.map((name) => versions[name]).join(" ");
}

/**
 * The counter of what may speak against decisions, which nobody else moves until the transaction ends. It is taken in the
 * order in which the triggers of overrides take theirs, so that neither waits for the other.
 */
export async function lockRules(tx: Db): Promise<string> {
  const { rows } = await tx.query<{ name: DataVersionName; n: string }>(
    "select name, n::text as n from data_version where name in ('holds', 'rules') order by name for update",
  );
  return rows.find(({ name }) => name === "rules")?.n ?? "";
}
