import { afterAll, beforeAll, expect, test } from "vitest";
import { noCost } from "@/core/spend";
import { keepHouse, WORKER } from "@/services/admin";
import { readClouds } from "@/services/inventory";
import { runRound } from "@/services/rounds";
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
  await keepHouse(world.services, WORKER);
  for (const table of MONTHLY) expect(await monthsOf(world.services.pool, table)).toEqual(["2027-03", "2027-04", "2027-05"]);
});

test("detail older than is kept is added up by month, exactly, and dropped; what is younger stays", async () => {
  const { pool } = world.services;
  // What the clouds tell says that it is March.
  await readClouds(world.services, (await world.services.clock.read()).now);
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
  expect(await keepHouse(world.services, WORKER)).toEqual({ rolledUp: 3 });
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
  expect(await keepHouse(world.services, WORKER)).toEqual({ rolledUp: 0 });
});

test("a month is a month, and nothing else is spliced into a statement", async () => {
  await expect(ensureMonths(world.services.pool, "usage_line", ["2027-03; drop table account"])).rejects.toThrow("month");
  expect(monthAfter("2026-11", 2)).toBe("2027-01");
  expect(monthAfter("2027-03", -13)).toBe("2026-02");
});

test("rounds and what they decided are forgotten after thirteen months, but for the decision that holds; of states the last stays", async () => {
  const { pool, clock } = world.services;
  const id = (await runRound(world.services, WORKER, "act")) ?? 0;
  const { rows } = await pool.query<{ id: string }>("select resource_id as id from decision where round_id = $1 limit 1", [id]);
  // An older round decided otherwise of one, and acted; both rounds are longer ago than is kept.
  await pool.query("update round set at = at - interval '500 days' where id = $1", [id]);
  await pool.query(
    `insert into round (id, mode, asked_by, at, status) overriding system value
     select -1, 'act', 'worker', at - interval '9 days', 'done' from round where id = $1`,
    [id],
  );
  await pool.query(
    `insert into decision (round_id, is_rehearsal, resource_id, actual, verdict, why, chain) overriding system value
     select -1, false, $1, 0, 'left', 'old', '[]'`,
    [rows[0]?.id],
  );
  await pool.query(
    `insert into action (key, round_id, resource_id, account, verb, level, status, recorded_at, try_again_at, deadline, ended_at)
     select 'old', -1, $1, account, 'stop', 0, 'done', at, at, at, at from resource, round where resource.id = $1 and round.id = -1`,
    [rows[0]?.id],
  );
  const { now } = await clock.read();
  const before = (await pool.query("select count(*)::integer as n from decision where round_id = $1", [id])).rows[0]?.n;
  await pool.query(
    `insert into state_change (account, n, resource_id, at, type, state, level, note)
     select account, 900000 + k, id, to_timestamp($2) - k * interval '1500 days', 'stopped', 'stopped', 0, '' from resource, generate_series(1, 3) as k where id = $1`,
    [rows[0]?.id, now],
  );
  await keepHouse(world.services, WORKER);
  expect((await pool.query("select count(*)::integer as n from round where id = -1")).rows).toEqual([{ n: 0 }]);
  expect((await pool.query("select count(*)::integer as n from action where key = 'old'")).rows).toEqual([{ n: 0 }]);
  expect((await pool.query("select count(*)::integer as n from decision where round_id = $1", [id])).rows[0]?.n).toBe(before);
  expect((await pool.query("select n::integer from state_change where n > 900000 order by n")).rows).toEqual([{ n: 900001 }]);
});

test("a clock four years ahead at midnight deletes no history, and of no table more than a tenth goes in a run", async () => {
  const { pool, clock } = world.services;
  const { now } = await clock.read();
  const wrong = {
    ...world.services,
    clock: { ...clock, read: async () => ({ ...(await clock.read()), now: now + 4 * 366 * 86_400 }) },
  };
  const TABLES = ["metric_day", "spend_day", "action", "round", "decision", "state_change", "alarm_change", "metric_name"];
  const counts = async () =>
    Object.fromEntries(
      await Promise.all(
        TABLES.map(async (table) => [
          table,
          (await pool.query<{ n: number }>(`select count(*)::integer as n from ${table}`)).rows[0]?.n,
        ]),
      ),
    );
  await saveMetricDays(pool, [{ resourceId: "r", metric: "cpu", day: "2027-03-10", stepS: 300, samples: [5] }]);
  await pool.query(
    `insert into alarm_change (at, resource_id, fleet, rule_key, words, state, reason)
     select to_timestamp($1::double precision) - i * interval '1 day', 'r', 'f', 'k', 'w', 'watching', '{}' from generate_series(1, 500) as i`,
    [now],
  );
  await keepHouse(world.services, WORKER);
  const before = await counts();
  await keepHouse(wrong, WORKER);
  expect(await counts()).toEqual({ ...before, alarm_change: expect.any(Number) });
  // Of what is old by every clock a tenth goes a day: 104 of 500 are.
  expect(before.alarm_change).toBe(450);
});
