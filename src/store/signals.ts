import type { Db } from "./pool";

export const CHANNEL = "umbrik_change";

export const SIGNALS = ["round", "fleets", "clock", "metrics", "holds", "spend", "usage", "mail"] as const;
export type Signal = (typeof SIGNALS)[number];

/** Tells every process that listens that something changed. */
export async function signal(db: Db, what: Signal): Promise<void> {
  await db.query("select pg_notify($1::text, $2::text)", [CHANNEL, what]);
}
