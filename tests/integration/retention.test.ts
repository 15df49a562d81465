import { afterAll, beforeAll, expect, test } from "vitest";
import { noCost } from "@/core/spend";
import { keepHouse, ROUNDS_WORKER } from "@/services";
import { closeDays, ensureMonths, MONTHLY, monthAfter, monthsOf, saveMeterDay, saveMetricDays, spendClosed } from "@/store";
import { startWorld, type TestWorld } from "../support/world";

let world: TestWorld;
beforeAll(async () => {
  world = await startWorld();
});
afterAll(() => world.close());

const LINE = {
  from: 0,
  to: 1,
  resourceId: "r",
  resourceType: "",
  region: "",
  serviceCategory: "Compute",
  chargeCategory: "Usage",
  description: "",
  quantity: null,
  unit: "",
  rate: null,
  effective: null,
  list: null,
  currency: "EUR",
  tags: "",
  rest: "",
};

test("the coming months have their partitions before anything needs them", async () => {
  await keepHouse(world.services, ROUNDS_WORKER);
  for (const table of MONTHLY) expect(await monthsOf(world.services.pool, table)).toEqual(["2027-03", "2027-04", "2027-05"]);
});

test("detail older than is kept is added up by month, exactly, and dropped; what is younger stays", async () => {
  const { pool } = world.services;
  const lines = ["0.1", "0.2000001", "3"].map((billed, i) => ({
    ...LINE,
    billed,
    mark: String(i),
    day: "2026-01-31",
    account: "skerry-desks",
  }));
  await saveMeterDay(pool, { account: "skerry-desks", day: "2026-01-31", lines });
  await saveMetricDays(pool, [{ resourceId: "r", metric: "cpu", day: "2026-08-31", stepS: 300, samples: [1, null, 3] }]);
  await saveMetricDays(pool, [{ resourceId: "r", metric: "cpu", day: "2026-09-01", stepS: 300, samples: [5] }]);
  const cost = { ...noCost(), compute: 7n as never, secondsOn: 60 };
  const spend = ["2024-01-01", "2024-01-31"].map((day) => ({ resourceId: "r", day, cost }));
  await closeDays(pool, { spend, from: "2024-01-01", through: "2024-01-31", epoch: (await spendClosed(pool)).epoch, at: 0 });
  expect(await keepHouse(world.services, ROUNDS_WORKER)).toEqual({ rolledUp: 3 });
  expect((await pool.query("select billed::text, lines::integer from usage_month")).rows).toEqual([
    { billed: "3.3000001", lines: 3 },
  ]);
  expect((await pool.query("select mean, highest, samples::integer from metric_month")).rows).toEqual([
    { mean: 2, highest: 3, samples: 2 },
  ]);
  expect((await pool.query("select compute::text, seconds_on::integer from spend_month")).rows).toEqual([
    { compute: "14", seconds_on: 120 },
  ]);
  expect((await pool.query("select count(*)::integer as n from metric_day")).rows).toEqual([{ n: 1 }]);
  expect(await keepHouse(world.services, ROUNDS_WORKER)).toEqual({ rolledUp: 0 });
});

test("a month is a month, and nothing else is spliced into a statement", async () => {
  await expect(ensureMonths(world.services.pool, "usage_line", ["2027-03; drop table account"])).rejects.toThrow("month");
  expect(monthAfter("2026-11", 2)).toBe("2027-01");
  expect(monthAfter("2027-03", -13)).toBe("2026-02");
});
