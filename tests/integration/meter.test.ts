import { afterAll, beforeAll, expect, test } from "vitest";
import { resourceKey } from "@/core/plan";
import { type AmountPerSecond, amountOf, computePerSecond, microsOf, rateCard } from "@/core/pricing";
import { totalOf } from "@/core/spend";
import { DEMO_ACTOR, WORKER } from "@/services/admin";
import { closeSpendDays } from "@/services/cost";
import { runRound } from "@/services/rounds";
import { accountList, closedDay, priceBooks, resourceList, spendDayList, spendTotals } from "@/store";
import { ACCOUNTS } from "../../demo/accounts";
import { HISTORY_DAYS, WORLD_START } from "../../demo/world";
import { get, startWorld, type TestWorld } from "../support/world";

const DAY = 86_400;
const FROM = Math.floor(WORLD_START / DAY) * DAY - HISTORY_DAYS * DAY;
let world: TestWorld;
beforeAll(async () => {
  world = await startWorld();
  await runRound(world.services, DEMO_ACTOR, "act");
  await closeSpendDays(world.services, WORKER);
});
afterAll(() => world.close());

const dateOf = (t: number) => new Date(t * 1000).toISOString().slice(0, 10);

type Usage = { lines: { resource: string; item: string; from: number; cost: string }[] };

/** What the stand-in's own meter says everything cost, by resource and item, over the 28 days before the demo's first. */
async function metered(): Promise<Map<string, { total: number; runs: number }>> {
  const costs = new Map<string, { total: number; runs: number }>();
  for (const { name: account, provider, key } of ACCOUNTS) {
    for (let day = FROM; day < FROM + HISTORY_DAYS * DAY; day += DAY) {
      const { lines } = await get<Usage>(`${world.standin.url}/${provider}/v1/usage?day=${day}`, key);
      for (const { resource, item, cost } of lines) {
        const known = costs.get(resourceKey(account, resource)) ?? { total: 0, runs: 0 };
        costs.set(resourceKey(account, resource), {
          total: known.total + Number(cost),
          runs: known.runs + (item === "compute" ? 1 : 0),
        });
      }
    }
  }
  return costs;
}

test("what is computed from state changes is what the meter bills over 28 days, for every resource and item, within a granule per run", async () => {
  const { pool } = world.services;
  const span = { from: dateOf(FROM), to: dateOf(FROM + (HISTORY_DAYS - 1) * DAY) };
  const [resources, prices, accounts, bill, days] = await Promise.all([
    resourceList(pool),
    priceBooks(pool),
    accountList(pool),
    metered(),
    spendDayList(pool, span),
  ]);
  expect(await closedDay(pool)).toBe(span.to);
  expect(resources.length).toBeGreaterThan(190);
  for (const resource of resources) {
    const capabilities = accounts.find(({ name }) => name === resource.fields.account)?.capabilities;
    if (!capabilities) throw new Error("unread account");
    // Before commitments: those are no part of a resource's meter.
    const computed = days
      .filter(({ resourceId }) => resourceId === resource.id)
      .reduce((sum, { cost }) => sum + totalOf(cost) + cost.covered, 0n);
    const card = rateCard(resource, prices.history.bookAt(WORLD_START), capabilities);
    const { total, runs } = bill.get(resource.id) ?? { total: 0, runs: 0 };
    const granule = Number(
      microsOf(amountOf(card.billing.granularityS, computePerSecond(card, Math.max(1, resource.levelMax) as never))),
    );
    const difference = Math.abs(Number(microsOf(computed as Parameters<typeof microsOf>[0])) - total * 1e6);
    // A line of the meter is rounded to a millionth on its own.
    expect(difference, resource.name).toBeLessThanOrEqual(granule * runs + 200);
    expect(total, resource.name).toBeGreaterThan(0);
  }
});

test("the database's sums are the core's sums to the millionth", async () => {
  const { pool } = world.services;
  const span = { from: dateOf(FROM), to: dateOf(FROM + (HISTORY_DAYS - 1) * DAY) };
  const days = await spendDayList(pool, span);
  const totals = await spendTotals(pool, span);
  expect(totals).toHaveLength(HISTORY_DAYS);
  for (const { day, micros } of totals) {
    const sum = days.filter((one) => one.day === day).reduce((total, { cost }) => total + totalOf(cost), 0n);
    expect(micros, day).toBe(microsOf(sum as Parameters<typeof microsOf>[0]));
  }
});

test("closing again closes nothing twice, and a day more when it is over", async () => {
  const { services } = world;
  expect(await closeSpendDays(services, WORKER)).toEqual({ days: 0 });
  await world.stepTo(FROM + (HISTORY_DAYS + 1) * DAY + 60);
  expect(await closeSpendDays(services, WORKER), "nobody has read the accounts since midnight").toEqual({ days: 0 });
  await runRound(services, DEMO_ACTOR, "act");
  expect(await closeSpendDays(services, WORKER)).toEqual({ days: 1 });
  const day = dateOf(FROM + HISTORY_DAYS * DAY);
  const [total] = await spendTotals(services.pool, { from: day, to: day });
  expect(Number(total?.micros) / 1e6).toBeGreaterThan(500);
});

test("a commitment's fee is due on every day, and what it covers is taken off no more than it covers", async () => {
  const { pool } = world.services;
  const { commitments } = await priceBooks(pool);
  expect(commitments).toMatchObject([{ size: "ketch-8", units: 6, feePerHour: "1.314", source: "provider" }]);
  const day = dateOf(FROM + 10 * DAY);
  const spend = await spendDayList(pool, { from: day, to: day });
  const fee = spend.find(({ resourceId }) => resourceId.startsWith("commitment:"));
  expect(Number(microsOf(fee?.cost.compute ?? (0n as never))) / 1e6).toBeCloseTo(1.314 * 24, 6);
  const covered = spend.reduce((sum, { cost }) => sum + cost.covered, 0n);
  const most = 6 * 24 * 0.337;
  expect(Number(microsOf(covered as never)) / 1e6).toBeLessThanOrEqual(most + 1e-6);
  expect(covered).toBeGreaterThan(0n);
  expect(spend.every(({ cost }) => cost.covered <= cost.compute)).toBe(true);
});

test("a rate card knows every part of every resource of the scenario", async () => {
  const { pool } = world.services;
  const [resources, { history }, accounts] = await Promise.all([resourceList(pool), priceBooks(pool), accountList(pool)]);
  for (const resource of resources) {
    const capabilities = accounts.find(({ name }) => name === resource.fields.account)?.capabilities;
    if (!capabilities) throw new Error("unread account");
    const card = rateCard(resource, history.bookAt(WORLD_START), capabilities);
    expect(card.unpriced, resource.name).toEqual([]);
    if (resource.kind === "machine") expect(card.perLevel > (0n as AmountPerSecond)).toBe(true);
  }
});
