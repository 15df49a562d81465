import type { Capabilities, SetAside } from "@/core/plan";
import { capabilitiesSchema } from "@/core/plan";
import type { Instant } from "@/core/time";
import type { Db } from "./pool";
import { whole } from "./whole";

export type Account = Readonly<{
  name: string;
  provider: string;
  baseUrl: string;
  key: string;
  /** Null until the provider was asked. */
  capabilities: Capabilities | null;
  eventCursor: number;
  readAt: Instant | null;
  readError: string | null;
  /** What its listing had that could not be understood. */
  setAside: readonly SetAside[];
}>;

type Row = {
  name: string;
  provider: string;
  base_url: string;
  key: string;
  capabilities: unknown;
  event_cursor: string;
  read_at: number | null;
  read_error: string | null;
  set_aside: SetAside[];
};

export async function accountList(db: Db): Promise<Account[]> {
  const { rows } = await db.query<Row>(
    `select name, provider, base_url, key, capabilities, event_cursor, read_at, read_error, set_aside
     from account
     order by name
     limit 1001`,
  );
  whole(rows, { most: 1_000, what: "accounts" });
  return rows.map((row) => ({
    name: row.name,
    provider: row.provider,
    baseUrl: row.base_url,
    key: row.key,
    capabilities: row.capabilities === null ? null : capabilitiesSchema.parse(row.capabilities),
    eventCursor: Number(row.event_cursor),
    readAt: row.read_at,
    readError: row.read_error,
    setAside: row.set_aside,
  }));
}

export async function saveAccount(db: Db, account: Pick<Account, "name" | "provider" | "baseUrl" | "key">): Promise<void> {
  await db.query(
    `insert into account (name, provider, base_url, key)
     values ($1::text, $2::text, $3::text, $4::text)
     on conflict (name) do update set base_url = excluded.base_url, key = excluded.key`,
    [account.name, account.provider, account.baseUrl, account.key],
  );
}

export async function saveCapabilities(db: Db, account: string, capabilities: Capabilities): Promise<void> {
  await db.query("update account set capabilities = $2::jsonb where name = $1::text", [account, JSON.stringify(capabilities)]);
}

/** Notes when an account was read and what was set aside in it, or what went wrong. */
export async function saveReading(
  db: Db,
  account: string,
  reading: Readonly<{ at: Instant; setAside: readonly SetAside[] }> | Readonly<{ error: string }>,
): Promise<void> {
  if ("error" in reading) {
    await db.query("update account set read_error = $2::text where name = $1::text", [account, reading.error]);
    return;
  }
  await db.query(
    `update account
     set read_error = null, read_at = to_timestamp($2::double precision), set_aside = $3::jsonb
     where name = $1::text`,
    [account, reading.at, JSON.stringify(reading.setAside)],
  );
}
