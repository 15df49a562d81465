import { afterAll, beforeAll, expect, test } from "vitest";
import { columnIn, metricsRead, replay, slotsIn } from "@/core/idle";
import { DEMO_ACTOR, WORKER } from "@/services/admin";
import { fleetSamples } from "@/services/idle";
import { readMetrics } from "@/services/metrics";
import { runRound } from "@/services/rounds";
import { foldRecent, metricDays, metricDaysRaw, readSamples, recentSamples, saveMetricDays, saveRecent } from "@/store";
import { PRESETS } from "@/ui/quiet/presets";
import { startWorld, type TestWorld } from "../support/world";

let world: TestWorld;
beforeAll(async () => {
  world = await startWorld();
  await runRound(world.services, DEMO_ACTOR, "act");
});
afterAll(() => world.close());

test("28 days of every metric are stored as day arrays, and reading again fetches nothing twice", async () => {
  const { services } = world;
  expect(await readMetrics(services, WORKER)).toEqual({ days: 4 * 28 });
  expect(await readMetrics(services, WORKER)).toEqual({ days: 0 });
  const days = await metricDays(services.pool, {
    ids: ["skerry-desks:norrhav-desk-osl-07"],
    metric: "cpu",
    from: "2027-02-11",
    to: "2027-03-10",
  });
  expect(days).toHaveLength(28);
  expect(days.every(({ samples, stepS }) => samples.length === 288 && stepS === 300)).toBe(true);
  const { rows } = await services.pool.query(
    "select count(*)::integer as n from pg_inherits where inhparent = 'metric_day'::regclass",
  );
  expect(rows[0]).toEqual({ n: 2 });
});

test("a missing sample stays missing, names with odd letters survive, and a later reading replaces an earlier one", async () => {
  const { pool } = world.services;
  const day = { resourceId: "odd\t\\name", metric: "cpu", day: "2027-01-31", stepS: 300 };
  await saveMetricDays(pool, [{ ...day, samples: [1.5, null, 3] }]);
  await saveMetricDays(pool, [{ ...day, samples: [2.5, null, 4] }]);
  const [stored] = await metricDays(pool, { ids: [day.resourceId], metric: "cpu", from: day.day, to: day.day });
  expect(stored).toEqual({ ...day, samples: [2.5, null, 4] });
});

test("samples of late come in any order and any number of times; the last told counts, and whole days are folded into rows", async () => {
  const { pool } = world.services;
  const midnight = Date.UTC(2027, 0, 20) / 1000;
  const at = (slot: number, value: number) => ({
    resourceId: "late one",
    metric: "pushed.by.name",
    at: midnight + slot * 300,
    stepS: 300,
    value,
  });
  await saveRecent(pool, [at(3, 30), at(1, 10), at(3, 33), at(288, 5), at(289, 7)]);
  await saveRecent(pool, [at(1, 11), at(1, 11)]);
  const ask = { ids: ["late one"], metrics: ["pushed.by.name"], from: midnight, to: midnight + 2 * 86_400 };
  expect((await recentSamples(pool, ask)).get("late one")?.map(({ value }) => value)).toEqual([11, 33, 5, 7]);
  await foldRecent(pool, midnight + 86_400);
  const days = await metricDays(pool, { ids: ["late one"], metric: "pushed.by.name", from: "2027-01-20", to: "2027-01-21" });
  expect(days.map(({ day, samples }) => [day, samples.length, samples[0], samples[1], samples[2], samples[287]])).toEqual([
    ["2027-01-20", 288, 11, null, 33, 5],
  ]);
  expect((await recentSamples(pool, ask)).get("late one")?.map(({ value }) => value)).toEqual([7]);
});

test("what is read as bytes is what is stored, and a machine's four weeks come whole", async () => {
  const { pool } = world.services;
  const ask = { ids: ["skerry-desks:norrhav-desk-osl-07"], metric: "cpu", from: "2027-03-01", to: "2027-03-01" };
  const [plain] = await metricDays(pool, ask);
  const [raw] = await metricDaysRaw(pool, ask);
  const read = new Float32Array(288).fill(Number.NaN);
  readSamples(raw?.samples as Buffer, read, 0);
  expect([...read].map((value) => (Number.isNaN(value) ? null : Number(value.toFixed(3))))).toEqual(plain?.samples);
  const samples = await fleetSamples(world.services, DEMO_ACTOR, { selector: "name = desk-osl-07", metrics: ["cpu"] });
  const column = columnIn(samples, "cpu", 0);
  expect([...column].filter((value) => Number.isNaN(value)).length).toBeLessThan(300);
});

test("the boxes that somebody started once and forgot are found by the rule that only tells", async () => {
  const rule = PRESETS.find(({ rule: { action } }) => action === "tell")?.rule as (typeof PRESETS)[number]["rule"];
  const samples = await fleetSamples(world.services, DEMO_ACTOR, {
    selector: "team = platform or name ~ loose-*",
    metrics: [...metricsRead(rule)],
  });
  const found = samples.head.resources.filter((_, i) => replay(rule, slotsIn(samples, i, metricsRead(rule)), null).tripCount > 0);
  expect(samples.head.resources.length).toBeGreaterThan(20);
  expect(found.length).toBe(samples.head.resources.length);
});
