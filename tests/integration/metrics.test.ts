import { afterAll, beforeAll, expect, test } from "vitest";
import { DEMO_PERSON, readMetrics, runRound } from "@/services";
import { metricDays, saveMetricDays } from "@/store";
import { startWorld, type TestWorld } from "../support/world";

let world: TestWorld;
beforeAll(async () => {
  world = await startWorld();
  await runRound(world.services, DEMO_PERSON, "act");
});
afterAll(() => world.close());

test("28 days of every metric are stored as day arrays, and reading again fetches nothing twice", async () => {
  const { services } = world;
  expect(await readMetrics(services, DEMO_PERSON)).toEqual({ days: 4 * 28 });
  expect(await readMetrics(services, DEMO_PERSON)).toEqual({ days: 0 });
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
