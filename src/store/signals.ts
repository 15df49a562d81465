import type { Db, PoolClient } from "./pool";

const CHANNEL = "umbrik_change";

export const SIGNALS = ["round", "fleets", "clock", "metrics", "holds", "spend", "usage", "mail", "webhook", "sources"] as const;
export type Signal = (typeof SIGNALS)[number];

/** Tells every process that listens that something changed. */
export async function signal(db: Db, what: Signal): Promise<void> {
  await db.query("select pg_notify($1::text, $2::text)", [CHANNEL, what]);
}

/** Hands on what any process signals until the connection breaks. Throws where it cannot listen. */
export async function hearSignals(client: PoolClient, tell: (what: Signal) => void): Promise<void> {
  const broken = new Promise<void>((resolve) => {
    client.once("error", () => resolve());
    client.once("end", () => resolve());
  });
  client.on("notification", ({ payload }) => tell(payload as Signal));
  await client.query(`listen ${CHANNEL}`);
  await broken;
}
