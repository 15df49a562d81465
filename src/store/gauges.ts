import type { Db } from "./pool";

/** Counts that a monitor asks for, as they stand in the database: the same from whichever process is asked. */
export type Gauges = Readonly<{
  rounds: readonly Readonly<{ status: string; n: number }>[];
  actions: readonly Readonly<{ status: string; n: number }>[];
  lastRoundAt: number | null;
  lastRoundTookMs: number | null;
  held: number;
  /** When the oldest action that is still open was recorded; null without one. */
  oldestOpenAt: number | null;
  accounts: readonly Readonly<{ name: string; readAt: number | null; isRead: boolean; setAside: number; isDoubted: boolean }>[];
  resources: readonly Readonly<{ state: string; n: number }>[];
  queue: readonly Readonly<{ task: string; n: number; failing: number }>[];
  connections: number;
}>;

export async function readGauges(db: Db): Promise<Gauges> {
  const [rounds, actions, last, open, accounts, resources, queue, connections] = await Promise.all([
    db.query<{ status: string; n: number }>("select status, count(*)::integer as n from round group by status"),
    db.query<{ status: string; n: number }>("select status, count(*)::integer as n from action group by status"),
    db.query<{ at: number; took: number | null; braked: number }>(
      "select at, took_ms as took, braked from round where mode = 'act' and status = 'done' and fleet is null order by id desc limit 1",
    ),
    db.query<{ at: number | null }>("select min(recorded_at) as at from action where status in ('recorded', 'sent')"),
    db.query<{ name: string; readAt: number | null; isRead: boolean; setAside: number; isDoubted: boolean }>(
      `select a.name, a.read_at as "readAt", a.read_error is null as "isRead", jsonb_array_length(a.set_aside) as "setAside",
         d.account is not null as "isDoubted"
       from account a
       left join doubt d on d.account = a.name
       order by a.name`,
    ),
    db.query<{ state: string; n: number }>(
      "select state, count(*)::integer as n from resource where state <> 'gone' group by state",
    ),
    db.query<{ task: string; n: number; failing: number }>(
      `select task_identifier as task, count(*)::integer as n, (count(*) filter (where attempts > 0))::integer as failing
       from graphile_worker.jobs
       group by task_identifier`,
    ),
    db.query<{ n: number }>("select count(*)::integer as n from pg_stat_activity where datname = current_database()"),
  ]);
  const [round] = last.rows;
  return {
    rounds: rounds.rows,
    actions: actions.rows,
    lastRoundAt: round?.at ?? null,
    lastRoundTookMs: round?.took ?? null,
    held: round?.braked ?? 0,
    oldestOpenAt: open.rows[0]?.at ?? null,
    accounts: accounts.rows,
    resources: resources.rows,
    queue: queue.rows,
    connections: connections.rows[0]?.n ?? 0,
  };
}
