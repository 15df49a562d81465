import { afterEach, beforeEach, expect, test } from "vitest";
import { DEMO_ACTOR } from "@/services/admin";
import { placeHold } from "@/services/rounds";
import { asLeader, whileLeading } from "@/store";
import { until, within } from "../support/patience";
import { startTrusted, startWorker, type Trusted, type Worker } from "../support/trusted";

let trusted: Trusted;
let workers: Worker[] = [];
beforeEach(async () => {
  trusted = await startTrusted();
}, within(60));
afterEach(async () => {
  trusted?.faults.rule(() => undefined);
  await Promise.all(workers.map((worker) => worker.stop()));
  workers = [];
  await trusted?.close();
});

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
const state = (name: string) =>
  trusted
    .desks()
    .find((unit) => unit.name === name)
    ?.life.at(-1)?.state;
const toldTwice = (since: number) => {
  const told = trusted.keeper.world.events
    .filter((event) => event.type === "stopping" && event.at >= since)
    .map(({ resource }) => resource);
  return told.filter((id, i) => told.indexOf(id) !== i);
};

const evening = () => Math.ceil((trusted.keeper.now() + 1) / 3600) * 3600 + 5;

// Longer than what it waits for may take, so that it says what that was.
test.each([2, 4])(
  "of %i workers on one database one leads at a time, and nothing is done twice",
  { timeout: within(120) },
  async (count) => {
    await trusted.morning();
    workers = await Promise.all(Array.from({ length: count }, () => startWorker(trusted)));
    const edge = evening();
    trusted.keeper.stepTo(edge);
    await until(() => trusted.desks().every((unit) => unit.life.at(-1)?.state !== "running"));
    for (let i = 0; i < 3; i++) {
      trusted.keeper.stepTo(trusted.keeper.now() + 61);
      await pause(700);
    }
    expect(toldTwice(edge)).toEqual([]);
    const { rows } = await trusted.services.pool.query(
      "select at, count(*)::integer as n from round where mode = 'act' and at >= to_timestamp($1) group by at having count(*) > 1",
      [edge],
    );
    expect(rows).toEqual([]);
  },
);

test("a lead is kept while its process computes without a pause for longer than the lease", { timeout: 60_000 }, async () => {
  const { pool } = trusted.services;
  const wrote = await asLeader(pool, "standstill", async (lead) => {
    await pool.query("create table standstill (n integer)");
    // Longer than the lease of ten seconds: on this event loop nothing is renewed meanwhile.
    for (const end = performance.now() + 13_000; performance.now() < end; );
    return whileLeading(pool, lead, async (tx) => (await tx.query("insert into standstill values (1)")).rowCount);
  });
  expect(wrote).toBe(1);
  // Let go, it is anybody's at once.
  expect(await asLeader(pool, "standstill", async () => "next")).toBe("next");
});

test("a frozen leader is replaced within 15 s, and what it does after it wakes is refused", { timeout: 120_000 }, async () => {
  await trusted.morning();
  const frozen = await startWorker(trusted);
  workers.push(frozen);
  const edge = evening();
  // It is frozen with its fourth action on the way; its others are recorded and not sent.
  let passed = 0;
  trusted.faults.rule(({ kind }) => {
    if (kind !== "act" || ++passed !== 4) return undefined;
    return { kind: "meanwhile", before: () => frozen.child.kill("SIGSTOP") };
  });
  trusted.keeper.stepTo(edge);
  await until(() => passed >= 4);
  trusted.faults.rule(() => undefined);
  const began = Date.now();
  workers.push(await startWorker(trusted));
  // One whose stop was not sent is held on meanwhile.
  const held = trusted
    .desks()
    .filter((unit) => unit.life.at(-1)?.state === "running")
    .at(-1);
  await placeHold(trusted.services, DEMO_ACTOR, {
    on: { resourceId: `skerry-desks:${held?.id}` },
    level: 1,
    until: null,
    reason: "late",
  });
  await until(() => trusted.running() === 1);
  expect(Date.now() - began).toBeLessThan(within(15));
  expect(state(held?.name ?? "")).toBe("running");
  // Thirteen hours later all are due on again, and the frozen one wakes with its old list.
  trusted.keeper.stepTo(edge + 13 * 3600);
  await until(() => trusted.desks().filter((unit) => unit.life.at(-1)?.state === "stopped").length <= 3);
  trusted.keeper.stepTo(trusted.keeper.now() + 130);
  const woken = trusted.keeper.now();
  frozen.child.kill("SIGCONT");
  await pause(3000);
  expect(trusted.keeper.world.events.filter((event) => event.type === "stopping" && event.at >= woken)).toEqual([]);
});
