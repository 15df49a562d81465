import { afterAll, afterEach, beforeAll, beforeEach, expect, test, vi } from "vitest";
import { asLevel, OFF } from "@/core/hours";
import type { ActAnswer, ActRequest, Clock, ProviderParts } from "@/provider";
import { NOTHING_TRIED, type Sending, sendActions } from "@/services/rounds/send-actions";
import {
  type Action,
  asLeader,
  type Lead,
  LostLeadError,
  markSending,
  openActionList,
  type Pool,
  recordActions,
  startRound,
  whileLeading,
} from "@/store";
import { storeOfTest } from "../support/world";

/** The lead, and the sending of one round's actions under it, line by line: what `npm run mutants` changes must be noticed here. */
let pool: Pool;
let close: () => Promise<void>;
beforeAll(async () => {
  ({ pool, close } = await storeOfTest());
});
afterAll(() => close());

const NOW = 1_800_000_000;
const lead = async () =>
  (await pool.query<{ until: Date | null; fence: string }>("select until, fence::text from lead where name = 'rounds'")).rows[0];
/** Another takes the lead: what a frozen holder does not hear of. */
const takenByAnother = () =>
  pool.query("update lead set fence = fence + 1, until = clock_timestamp() + interval '1 min' where name = 'rounds'");
const lapsed = () => pool.query("update lead set until = clock_timestamp() - interval '1 s' where name = 'rounds'");
const leading = <T>(work: (held: Lead) => Promise<T>) => asLeader(pool, "rounds", work);

beforeEach(async () => {
  await pool.query("delete from action");
  await pool.query("delete from last_due");
});
afterEach(() => vi.restoreAllMocks());

test("a lead is held by one, with a number that grows, for ten seconds, and is free at its end, whatever that is", async () => {
  const fences: number[] = [];
  expect(await leading(async ({ fence, name }) => [fences.push(Number(fence)), name])).toEqual([1, "rounds"]);
  expect((await lead())?.until).toBeNull();
  await leading(async ({ fence }) => {
    fences.push(Number(fence));
    const { rows } = await pool.query<{ s: number }>(
      "select extract(epoch from until - clock_timestamp())::double precision as s from lead",
    );
    expect(rows[0]?.s).toBeGreaterThan(8);
    expect(rows[0]?.s).toBeLessThanOrEqual(10);
    expect(await leading(async () => "both")).toBeNull();
    expect(await asLeader(pool, "another", async () => "beside")).toBe("beside");
    expect((await lead())?.fence).toBe(String(fence));
  });
  await expect(leading(() => Promise.reject(new Error("broke")))).rejects.toThrow("broke");
  expect((await lead())?.until).toBeNull();
  await leading(async ({ fence }) => fences.push(Number(fence)));
  expect(fences[1]).toBeGreaterThan(fences[0] as number);
  expect(fences[2]).toBeGreaterThan(fences[1] as number);
});

test("a lead that lapsed, or whose holder's connection is gone, is taken; one that was taken is not given back by who had it", async () => {
  await leading(async () => {
    await lapsed();
    expect(await leading(async () => "taken")).toBe("taken");
    // The first one's end must not end what another holds by then.
    await takenByAnother();
  });
  expect((await lead())?.until).not.toBeNull();
  // Whoever holds it now has no connection any more.
  await pool.query("update lead set pid = 0 where name = 'rounds'");
  expect(await leading(async () => "taken")).toBe("taken");
  // The same process number of another life is not the one that held it.
  await takenByAnother();
  await pool.query("update lead set pid = pg_backend_pid(), backend_start = '2020-01-01' where name = 'rounds'");
  expect(await leading(async () => "taken")).toBe("taken");
});

test("a holder's connection goes back to the pool as it came, and one that was cut does not", async () => {
  let removed = 0;
  const listeners: number[] = [];
  const note = () => removed++;
  const count = (client: { listenerCount: (event: string) => number }) => listeners.push(client.listenerCount("error"));
  pool.on("remove", note).on("acquire", count);
  for (let i = 0; i < 5; i++) await leading(async () => {});
  expect(removed).toBe(0);
  expect(new Set(listeners).size).toBe(1);
  // Whoever holds it goes on, and no process ends by it; the next holder has a connection that works.
  const done = await leading(async () => {
    await pool.query("select pg_terminate_backend(pid) from lead where name = 'rounds'");
    // Until its end is heard of here.
    await new Promise((resolve) => setTimeout(resolve, 300));
    return "done";
  });
  expect(done).toBe("done");
  expect(removed).toBe(1);
  expect(await leading(async () => "next")).toBe("next");
  pool.off("remove", note).off("acquire", count);
});

test("what is done while leading is undone where another leads by its end, or the lease has lapsed", async () => {
  const write = (name: string) => (tx: { query: (text: string, values: unknown[]) => Promise<unknown> }) =>
    tx.query("insert into account (name, provider, base_url, key) values ($1, 'p', 'u', 'k')", [name]);
  const known = async () =>
    (await pool.query<{ name: string }>("select name from account where name like 'w%' order by name")).rows.map(
      ({ name }) => name,
    );
  await leading(async (held) => {
    await whileLeading(pool, held, write("w1"));
    await lapsed();
    await expect(whileLeading(pool, held, write("w2"))).rejects.toThrow(LostLeadError);
    await takenByAnother();
    const error = await whileLeading(pool, held, write("w3")).catch((one: unknown) => one);
    expect(error).toMatchObject({ code: "lost_lead", facts: held });
    expect(String(error)).toContain("another worker leads now: what this one had decided is not done");
    await whileLeading(pool, null, write("w4"));
    expect(await whileLeading(pool, null, async () => 7)).toBe(7);
  });
  expect(await known()).toEqual(["w1", "w4"]);
  await lapsed();
});

/** Records stops of so many machines of each account; returns them as they are open. */
async function recorded(counts: Readonly<Record<string, number>>, due: number | null = 0): Promise<Action[]> {
  const roundId = await startRound(pool, { mode: "act", askedBy: "worker", at: NOW });
  const actions = Object.entries(counts).flatMap(([account, count]) =>
    Array.from({ length: count }, (_, i) => ({
      key: `${roundId} ${account} ${i}`,
      resourceId: `${account}:${i}`,
      account,
      verb: "stop" as const,
      level: OFF,
      due: due === null ? null : asLevel(due),
      isUnforeseen: false,
    })),
  );
  await recordActions(pool, actions, { roundId, at: NOW, deadline: NOW + 7200 });
  return openActionList(pool);
}

type Answering = (asked: ActRequest) => ActAnswer | Promise<ActAnswer>;
function sending(held: Lead, act: Answering, more: Partial<Sending> = {}): Sending {
  const parts = { power: { act: async (asked: ActRequest) => act(asked) } } as unknown as ProviderParts;
  const clock = { read: async () => ({ now: NOW, rate: 1, isDemo: false, waitAt: null }) } as unknown as Clock;
  return {
    lead: held,
    clock,
    portOf: () => parts,
    decidedAt: NOW,
    whyNot: async () => null,
    signal: new AbortController().signal,
    ...more,
  };
}
const ACCEPTED: ActAnswer = { kind: "accepted" };
const stored = async () =>
  (
    await pool.query<Record<string, unknown>>(
      `select status, attempts, last_answer as answer, is_accepted as "isAccepted", extract(epoch from try_again_at)::integer - ${NOW} as "againIn",
         extract(epoch from ended_at)::integer - ${NOW} as "endedIn"
       from action order by id`,
    )
  ).rows;
async function sent(
  act: Answering,
  {
    counts = { a1: 1 },
    due = 0 as number | null,
    ...more
  }: Partial<Sending> & { counts?: Record<string, number>; due?: number | null } = {},
) {
  const actions = await recorded(counts, due);
  return leading((held) => sendActions(pool, actions, sending(held, act, more)));
}

test("each action is sent once, eight of an account at once, and each answer is written down", async () => {
  const atOnce: Record<string, number> = { a1: 0, a2: 0 };
  const most: Record<string, number> = { a1: 0, a2: 0 };
  const asked: string[] = [];
  const tried = await sent(
    async ({ resourceId, key, verb, level }) => {
      const account = resourceId.slice(0, 2);
      atOnce[account] = (atOnce[account] ?? 0) + 1;
      most[account] = Math.max(most[account] ?? 0, atOnce[account] ?? 0);
      await new Promise((resolve) => setTimeout(resolve, 100));
      atOnce[account] = (atOnce[account] ?? 0) - 1;
      asked.push(key);
      expect([verb, level]).toEqual(["stop", 0]);
      return ACCEPTED;
    },
    { counts: { a1: 20, a2: 3 } },
  );
  expect(tried).toEqual({ sent: 23, tried: 23, again: 0 });
  expect(new Set(asked).size).toBe(23);
  expect(most.a1).toBe(8);
  expect(most.a2).toBe(3);
  for (const one of await stored())
    expect(one).toEqual({ status: "sent", attempts: 1, answer: "accepted", isAccepted: true, againIn: 300, endedIn: null });
  expect(NOTHING_TRIED).toEqual({ sent: 0, tried: 0, again: 0 });
});

test("what may go through later is asked again after 1, 2, 4, 8 and then 15 minutes, and counted as asked again", async () => {
  await recorded({ a1: 1 });
  const waits: unknown[] = [];
  for (let attempt = 0; attempt < 6; attempt++) {
    const tried = await leading(async (held) =>
      sendActions(
        pool,
        await openActionList(pool),
        sending(held, () => ({ kind: "retry", why: "no answer" })),
      ),
    );
    expect(tried).toEqual({ sent: 0, tried: 1, again: attempt === 0 ? 0 : 1 });
    const [one] = await stored();
    expect(one).toMatchObject({ status: "sent", attempts: attempt + 1, answer: "no answer", isAccepted: false, endedIn: null });
    waits.push(one?.againIn);
  }
  expect(waits).toEqual([60, 120, 240, 480, 900, 900]);
});

test("a clear refusal ends an action for an hour, and is the answer to its edge; what a person asked for had none", async () => {
  const dues = async () => (await pool.query("select resource_id as id, level from last_due")).rows;
  expect(await sent(() => ({ kind: "refused", why: "guarded" }), { due: null })).toEqual({ sent: 0, tried: 1, again: 0 });
  expect(await stored()).toEqual([
    { status: "refused", attempts: 1, answer: "guarded", isAccepted: false, againIn: 3600, endedIn: 0 },
  ]);
  expect(await dues()).toEqual([]);
  await pool.query("delete from action");
  await sent(() => ({ kind: "refused", why: "guarded" }));
  expect(await dues()).toEqual([{ id: "a1:0", level: 0 }]);
  await pool.query("delete from action");
  expect(await sent(() => ACCEPTED, { portOf: () => undefined })).toEqual({ sent: 0, tried: 1, again: 0 });
  expect(await stored()).toMatchObject([{ status: "refused", answer: "its account is no longer set up" }]);
});

test("nothing is sent by a decision that is two rounds old, nor once sending is ended", async () => {
  let asked = 0;
  const act = () => {
    asked++;
    return ACCEPTED;
  };
  const none = { sent: 0, tried: 0, again: 0 };
  expect(await sent(act, { counts: { a1: 9 }, decidedAt: NOW - 121 })).toEqual(none);
  expect((await stored()).every(({ status, attempts }) => status === "recorded" && attempts === 0)).toBe(true);
  await pool.query("delete from action");
  expect(await sent(act, { counts: { a1: 9 }, signal: AbortSignal.abort() })).toEqual(none);
  expect(asked).toBe(0);
  expect((await stored()).every(({ status }) => status === "recorded")).toBe(true);
  await pool.query("delete from action");
  expect(await sent(act, { decidedAt: NOW - 120 })).toEqual({ sent: 1, tried: 1, again: 0 });
});

test("what is not wanted any more is withdrawn with the reason, as if it had not been tried, and the next one goes on", async () => {
  const rulesSeen: string[] = [];
  const tried = await sent(() => ACCEPTED, {
    counts: { a1: 10 },
    whyNot: async ({ resourceId }, rules) => {
      rulesSeen.push(rules);
      return resourceId === "a1:9" ? null : "a hold was placed";
    },
  });
  expect(tried).toEqual({ sent: 1, tried: 1, again: 0 });
  const lines = await stored();
  const givenUp = { status: "given up", attempts: 0, answer: "not sent: a hold was placed", endedIn: 0 };
  expect(lines.filter(({ status }) => status === "sent")).toHaveLength(1);
  for (const line of lines.filter(({ status }) => status !== "sent")) expect(line).toMatchObject(givenUp);
  const { rows } = await pool.query<{ n: string }>("select n::text as n from data_version where name = 'rules'");
  expect(new Set(rulesSeen)).toEqual(new Set([rows[0]?.n]));
});

test("what ended meanwhile is not sent, and the others are", async () => {
  const actions = await recorded({ a1: 12 });
  await pool.query("update action set status = 'given up' where resource_id <> 'a1:11'");
  const asked: string[] = [];
  const tried = await leading((held) =>
    sendActions(
      pool,
      actions,
      sending(held, ({ resourceId }) => {
        asked.push(resourceId);
        return ACCEPTED;
      }),
    ),
  );
  expect(tried).toEqual({ sent: 1, tried: 1, again: 0 });
  expect(asked).toEqual(["a1:11"]);
});

test("a process that slept between the mark and the sending looks at everything again", async () => {
  let asks = 0;
  let slept = 0;
  const real = Date.now();
  vi.spyOn(Date, "now").mockImplementation(() => real + slept);
  const tried = await sent(() => ACCEPTED, {
    whyNot: async () => {
      asks++;
      // Five minutes the first time; two seconds are no sleep.
      slept += asks === 1 ? 300_000 : 2_000;
      return null;
    },
  });
  expect(asks).toBe(2);
  expect(tried).toMatchObject({ sent: 1 });
  expect(await stored()).toMatchObject([{ attempts: 2 }]);
});

test("as soon as another leads nothing more is sent, and whoever sent hears of it", async () => {
  const actions = await recorded({ a1: 30 });
  let asked = 0;
  await expect(
    leading((held) =>
      sendActions(
        pool,
        actions,
        sending(held, async () => {
          asked++;
          await takenByAnother();
          return ACCEPTED;
        }),
      ),
    ),
  ).rejects.toThrow(LostLeadError);
  // Those that were on their way at that moment, and none after them.
  expect(asked).toBeLessThanOrEqual(8);
  await lapsed();
  await leading(async (held) => {
    const [one] = await openActionList(pool);
    await lapsed();
    await expect(markSending(pool, held, { id: one?.id ?? 0, now: NOW })).rejects.toThrow(LostLeadError);
  });
  expect((await stored()).filter(({ attempts }) => attempts === 0).length).toBeGreaterThanOrEqual(22);
});
