import pg from "pg";
import { log } from "@/log";
import { hostsOf, movingClient } from "./moving-client";
import { keepReady } from "./prepared";

// What a column type becomes is decided here, once: instants are whole seconds, dates and numerics stay text.
const TIMESTAMPTZ = 1184;
const DATE = 1082;
pg.types.setTypeParser(TIMESTAMPTZ, (text) => Math.round(Date.parse(text) / 1000));
pg.types.setTypeParser(DATE, (text) => text);

export type Pool = pg.Pool;
export type PoolClient = pg.PoolClient;
/** A pool, or one client inside a transaction: whatever can take a query. */
export type Db = Pick<pg.Pool, "query">;

export type PoolOptions = Readonly<{
  /** The most connections of this process. */
  max?: number;
}>;

const hostsByPool = new WeakMap<Pool, readonly string[]>();

/** The addresses that a pool was opened on, for a connection beside it. */
export function poolHosts(pool: Pool): readonly string[] {
  return hostsByPool.get(pool) ?? [];
}

/** A pool on a URL. Where several hosts stand in it, commas between, each connection goes to the one that can be written to. */
export function openPool(databaseUrl: string, { max = 8 }: PoolOptions = {}): Pool {
  const hosts = hostsOf(databaseUrl);
  const [first] = hosts;
  const pool = new pg.Pool({
    connectionString: first ?? databaseUrl,
    max,
    options: "-c timezone=UTC",
    connectionTimeoutMillis: 10_000,
    ...(hosts.length > 1 ? { Client: movingClient(hosts) } : {}),
  });
  hostsByPool.set(pool, hosts.length > 0 ? hosts : [databaseUrl]);
  // A server that goes away must not end the process: the next query says what is wrong.
  pool.on("error", (error) => log.warn({ reason: error.message }, "database connection lost"));
  pool.on("connect", (client) => {
    client.on("error", () => {});
    keepReady(client);
  });
  return pool;
}

/** Asks the database for nothing at all. Throws where it does not answer. */
export async function touch(pool: Pool): Promise<void> {
  await pool.query("select 1");
}
