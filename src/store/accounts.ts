import type { Capabilities, SetAside } from "@/core/plan";
import { capabilitiesSchema } from "@/core/plan";
import type { Instant } from "@/core/time";
import type { Db } from "./pool";
import { whole } from "./whole";

export type Account = Readonly<{
  name: string;
  provider: string;
  /** Which kind of provider knows how to ask it. */
  kind: string;
  baseUrl: string;
  key: string;
  /** Null until the provider was asked. */
  capabilities: Capabilities | null;
  /** The last event of its feed that is stored, and how many of the numbers before it are of a feed that began again. */
  eventCursor: number;
  eventBase: number;
  /** Which event that was; null where it is not known. */
  eventMark: string | null;
  /** How far its clock goes ahead of ours (seconds; below zero: behind), now and the most that was ever measured. */
  clockAhead: Readonly<{ now: number; most: number }>;
  readAt: Instant | null;
  readError: string | null;
  /** What its listing had that could not be understood. */
  setAside: readonly SetAside[];
  /** Why parts of it could not be read at the last reading, by part. */
  partErrors: Readonly<Record<string, string>>;
}>;

type Row = {
  name: string;
  provider: string;
  kind: string;
  base_url: string;
  key: string;
  capabilities: unknown;
  event_cursor: string;
  event_base: string;
  event_mark: string | null;
  clock_ahead_s: number;
  clock_ahead_most_s: number;
  read_at: number | null;
  read_error: string | null;
  set_aside: SetAside[];
  part_errors: Record<string, string>;
};

export async function accountList(db: Db): Promise<Account[]> {
  const { rows } = await db.query<Row>(
    `select name, provider, kind, base_url, key, capabilities, event_cursor, event_base, event_mark, clock_ahead_s,
       clock_ahead_most_s, read_at, read_error, set_aside, part_errors
     from account
     order by name
     limit 1001`,
  );
  whole(rows, { most: 1_000, what: "accounts" });
  return rows.map((row) => ({
    name: row.name,
    provider: row.provider,
    kind: row.kind,
    baseUrl: row.base_url,
    key: row.key,
    capabilities: row.capabilities === null ? null : capabilitiesSchema.parse(row.capabilities),
    eventCursor: Number(row.event_cursor),
    eventBase: Number(row.event_base),
    eventMark: row.event_mark,
    clockAhead: { now: row.clock_ahead_s, most: row.clock_ahead_most_s },
    readAt: row.read_at,
    readError: row.read_error,
    setAside: row.set_aside,
    partErrors: row.part_errors,
  }));
}

/** An account as it is set up; of the common kind where it says none. */
export type AccountSetUp = Readonly<Pick<Account, "name" | "provider" | "baseUrl" | "key"> & { kind?: string | undefined }>;

export async function saveAccount(db: Db, account: AccountSetUp): Promise<void> {
  await db.query(
    `insert into account (name, provider, base_url, key, kind)
     values ($1::text, $2::text, $3::text, $4::text, coalesce($5::text, 'http'))
     on conflict (name) do update set base_url = excluded.base_url, key = excluded.key, kind = excluded.kind`,
    [account.name, account.provider, account.baseUrl, account.key, account.kind ?? null],
  );
}

export async function saveCapabilities(db: Db, account: string, capabilities: Capabilities): Promise<void> {
  await db.query("update account set capabilities = $2::jsonb where name = $1::text", [account, JSON.stringify(capabilities)]);
}

/** Notes when an account was read and what was set aside in it, or what went wrong. */
export async function saveReading(
  db: Db,
  account: string,
  reading:
    | (Readonly<{ at: Instant; setAside: readonly SetAside[] }> & Pick<Account, "partErrors" | "clockAhead">)
    | Readonly<{ error: string }>,
): Promise<void> {
  if ("error" in reading) {
    await db.query("update account set read_error = $2::text where name = $1::text", [account, reading.error]);
    return;
  }
  await db.query(
    `update account
     set read_error = null, read_at = to_timestamp($2::double precision), set_aside = $3::jsonb, part_errors = $4::jsonb,
       clock_ahead_s = $5::integer, clock_ahead_most_s = $6::integer
     where name = $1::text`,
    [
      account,
      reading.at,
      JSON.stringify(reading.setAside),
      JSON.stringify(reading.partErrors),
      reading.clockAhead.now,
      reading.clockAhead.most,
    ],
  );
}
