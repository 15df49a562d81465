import { AppError } from "@/core/error";
import { LEASE_MS, leaseKeeper } from "./lease-keeper";
import type { Db, Pool, PoolClient } from "./pool";
import { inTransaction } from "./transaction";

/** The right to do what only one may do at a time. `fence` grows with each holder. */
export type Lead = Readonly<{ name: string; fence: string }>;

/** The lead went to another: whoever had it stops what it is doing. */
export class LostLeadError extends AppError {
  readonly code = "lost_lead";
  constructor(lead: Lead) {
    super("another worker leads now: what this one had decided is not done", { facts: lead });
  }
}

/**
 * Runs `work` while holding a lead; null when another holds it. A holder whose connection is gone, or that
 * shows no life for the lease, loses it.
 */
export async function asLeader<T>(pool: Pool, name: string, work: (lead: Lead) => Promise<T>): Promise<T | null> {
  const presence = await pool.connect();
  let isBroken = false;
  const note = () => {
    isBroken = true;
  };
  presence.on("error", note);
  try {
    const lead = await takeLead(presence, name);
    if (!lead) return null;
    const keeper = leaseKeeper(pool);
    keeper.hold(lead);
    try {
      return await work(lead);
    } finally {
      keeper.release(lead);
      await releaseLead(pool, lead).catch(() => {});
    }
  } finally {
    presence.off("error", note);
    presence.release(isBroken);
  }
}

async function takeLead(presence: Db, name: string): Promise<Lead | null> {
  const { rows } = await presence.query<{ fence: string }>(
    `insert into lead as l (name, pid, backend_start, fence, until)
     select $1::text, me.pid, me.backend_start, 1, clock_timestamp() + $2::double precision * interval '1 ms'
     from pg_stat_activity me
     where me.pid = pg_backend_pid()
     on conflict (name) do update set pid = excluded.pid, backend_start = excluded.backend_start, fence = l.fence + 1, until = excluded.until
     where l.until is null or l.until < clock_timestamp()
       or not exists (select from pg_stat_activity a where a.pid = l.pid and a.backend_start = l.backend_start)
     returning fence::text`,
    [name, LEASE_MS],
  );
  return rows[0] ? { name, fence: rows[0].fence } : null;
}

async function releaseLead(db: Db, { name, fence }: Lead): Promise<void> {
  await db.query("update lead set until = null where name = $1::text and fence = $2::bigint", [name, fence]);
}

/** Runs `work` in one transaction that is undone where another leads by its end. Throws a LostLeadError then. Null: nobody has to. */
export async function whileLeading<T>(pool: Pool, lead: Lead | null, work: (tx: PoolClient) => Promise<T>): Promise<T> {
  return inTransaction(pool, async (tx) => {
    const result = await work(tx);
    if (lead) await holdLead(tx, lead);
    return result;
  });
}

/** Keeps the lead from being taken until the transaction ends. Throws a LostLeadError where it was. */
async function holdLead(tx: Db, lead: Lead): Promise<void> {
  const { rows } = await tx.query<{ held: boolean }>(
    `select exists (
       select from lead where name = $1::text and fence = $2::bigint and until >= clock_timestamp() for share
     ) as held`,
    [lead.name, lead.fence],
  );
  if (!rows[0]?.held) throw new LostLeadError(lead);
}
