import { afterAll, beforeAll, expect, test } from "vitest";
import { everyChoice, mixFigures, mixSchema, simulateStretch, withChoice } from "@/core/mix";
import { DEMO_ACTOR, openServices, openThread, type Services, WORKER } from "@/services/admin";
import { endStudyEarly, runStudy, startStudy, studyOf } from "@/services/mix";
import { failStudy, takePart } from "@/store";
import { within } from "../support/patience";
import { startWorld, type TestWorld } from "../support/world";

/** A frontier that several workers share through the queue. */
const MIX = mixSchema.parse({
  wanted: [{ from: 0, to: 84, units: 6 }],
  firm: 2,
  firmPrice: 0.3,
  setupMinutes: 5,
  eviction: "drop",
  order: "even",
  refillEveryMinutes: 5,
  provisionMinutes: 1,
  floor: 4,
  pools: [
    { name: "a", price: 0.1, hazard: { shape: 3, rate: 200 }, availableHours: 40, dryHours: 2 },
    { name: "b", price: 0.13, hazard: 0.01 },
  ],
});

let world: TestWorld;
let others: Services;
beforeAll(async () => {
  world = await startWorld();
  others = openServices({ DATABASE_URL: world.databaseUrl, UMBRIK_CLOCK_URL: `${world.standin.url}/clock` });
}, within(60));
afterAll(async () => {
  await others?.pool.end();
  await world?.close();
});

const start = (trials: number) => startStudy(world.services, DEMO_ACTOR, { fleet: "f", mix: MIX, days: 3, trials });

test(
  "what several workers came to is to the last digit what one comes to, and the means are those of the simulation",
  async () => {
    const id = await start(1_500);
    expect(await studyOf(world.services, DEMO_ACTOR, "f")).toMatchObject({ state: "under way", done: 0, parts: 74, mixes: 37 });
    await Promise.all([world.services, others, world.services].map((own) => runStudy(own, WORKER, { id })));
    const shared = await studyOf(world.services, DEMO_ACTOR, "f");
    expect(shared).toMatchObject({ state: "done", done: 74 });
    const alone = await start(1_500);
    await runStudy(others, WORKER, { id: alone });
    expect((await studyOf(world.services, DEMO_ACTOR, "f"))?.points).toEqual(shared?.points);
    everyChoice(MIX).forEach((choice, i) => {
      const own = simulateStretch(withChoice(MIX, choice), { seed: 1, days: 3, first: 0, count: 1_500, fanPoints: 0 });
      const { cost, missingUnitHours, atLeastFloor } = mixFigures(own.outcomes);
      const point = shared?.points?.[i];
      expect(point?.cost).toBeCloseTo(cost.mean, 9);
      expect(point?.missingUnitHours).toBeCloseTo(missingUnitHours.mean, 9);
      expect(point?.atLeastFloor).toBeCloseTo(atLeastFloor, 9);
    });
  },
  within(120),
);

test("whatever way the database goes about it, one part is taken at a time, and all of them are", async () => {
  const { pool } = others;
  const before = await start(500);
  await pool.query("delete from mix_study_part where study_id <> $1 or n > 0", [before]);
  // It goes by what it last counted, which was one: then it asks for the next part once for every part there is.
  await pool.query("vacuum full analyze mix_study_part");
  const id = await start(500);
  const taken: number[] = [];
  for (let part = await takePart(pool, id); part; part = await takePart(pool, id)) taken.push(part.n);
  expect(taken).toEqual(Array.from({ length: 37 }, (_, n) => n));
});

test("a worker that stops leaves its part to others; a part of one that died is taken up when its time is over", async () => {
  const id = await start(500);
  const dead = await takePart(others.pool, id);
  expect(dead).not.toBeNull();
  const stopping = new AbortController();
  stopping.abort();
  expect(await runStudy(others, WORKER, { id, stopping: stopping.signal })).toBe(false);
  await world.services.pool.query(
    "update mix_study_part set claimed_at = claimed_at - interval '3 minutes' where study_id = $1",
    [id],
  );
  expect(await runStudy(world.services, WORKER, { id })).toBe(true);
  expect(await studyOf(world.services, DEMO_ACTOR, "f")).toMatchObject({ state: "done" });
});

test("a study is cancelled and stays so; a new one ends the one under way; too much is refused", async () => {
  const id = await start(2_000);
  await endStudyEarly(world.services, DEMO_ACTOR, id);
  expect(await runStudy(world.services, WORKER, { id })).toBe(true);
  expect(await studyOf(world.services, DEMO_ACTOR, "f")).toMatchObject({ state: "cancelled", points: null });
  const first = await start(2_000);
  await start(1_000);
  expect(await runStudy(world.services, WORKER, { id: first })).toBe(true);
  expect(await studyOf(world.services, DEMO_ACTOR, "f")).toMatchObject({ state: "under way", done: 0 });
  const large = { ...MIX, wanted: 3_000 };
  await expect(startStudy(world.services, DEMO_ACTOR, { fleet: "f", mix: large, days: 3, trials: 10 })).rejects.toThrow(
    "more than the 4000",
  );
});

test(
  "a study of the largest kind keeps the process free, says what it would take, and is cut within a second of being cancelled",
  async () => {
    const { services } = world;
    const wild = mixSchema.parse({ ...MIX, wanted: 600, firm: 0, pools: [{ name: "a", price: 0.1, hazard: 5 }] });
    await expect(startStudy(services, DEMO_ACTOR, { fleet: "f", mix: wild, days: 365, trials: 2_000 })).rejects.toThrow(
      /^\d+ mixes, 2000 trials each over 365 days, would take some \d{4,} hours of computing, and at most 1 is given: try fewer days or trials$/,
    );
    // One trial of each, a part of which takes seconds.
    const id = await startStudy(services, DEMO_ACTOR, { fleet: "f", mix: { ...wild, wanted: 40 }, days: 365, trials: 3 });
    let slowest = 0;
    let isEnded = false;
    const ended = runStudy(services, WORKER, { id }).then((isDone) => {
      isEnded = true;
      return isDone;
    });
    const began = performance.now();
    while (performance.now() - began < 4_000) {
      const before = performance.now();
      await new Promise((resolve) => setTimeout(resolve, 5));
      slowest = Math.max(slowest, performance.now() - before);
    }
    expect(isEnded).toBe(false);
    // A part takes seconds: on this event loop nothing of it would have been heard meanwhile.
    expect(slowest).toBeLessThan(500);
    await endStudyEarly(services, DEMO_ACTOR, id);
    const cancelledAt = performance.now();
    expect(await ended).toBe(true);
    expect(performance.now() - cancelledAt).toBeLessThan(within(1.5));
    expect(await studyOf(services, DEMO_ACTOR, "f")).toMatchObject({ state: "cancelled", points: null });
  },
  within(60),
);

test(
  "a study whose thread takes too much memory ends with the reason, and others begin as ever",
  async () => {
    const { services } = world;
    const id = await start(100);
    // A plan file makes many objects at once: a thread of little memory ends over it, and nothing else does.
    const thread = await openThread<string, unknown>("services/plans/parse-thread", 16);
    const heavy = `umbrik: 1\nschedules: [${"{},".repeat(100_000)}]`;
    await expect(thread.ask(heavy, { withinMs: 30_000 })).rejects.toThrow("it takes more than 16 MB of memory");
    await thread.close();
    await failStudy(services.pool, id, "it takes more than 400 MB of memory");
    expect(await studyOf(services, DEMO_ACTOR, "f")).toMatchObject({
      state: "failed",
      failure: "it takes more than 400 MB of memory",
    });
    expect(await runStudy(services, WORKER, { id })).toBe(true);
    const next = await start(100);
    expect(await runStudy(services, WORKER, { id: next })).toBe(true);
    expect(await studyOf(services, DEMO_ACTOR, "f")).toMatchObject({ state: "done", failure: null });
  },
  within(60),
);
