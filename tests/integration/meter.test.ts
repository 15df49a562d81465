import { afterAll, beforeAll, expect, test } from "vitest";
import { type AmountPerSecond, amountOf, billedSeconds, computePerSecond, microsOf, rateCard } from "@/core/pricing";
import { DEMO_PERSON, runRound } from "@/services";
import { accountList, currentPrices, resourceList, runsOf } from "@/store";
import { ACCOUNTS } from "../../demo/accounts";
import { HISTORY_DAYS, WORLD_START } from "../../demo/world";
import { get, startWorld, type TestWorld } from "../support/world";

const DAY = 86_400;
let world: TestWorld;
beforeAll(async () => {
  world = await startWorld();
  await runRound(world.services, DEMO_PERSON, "act");
});
afterAll(() => world.close());

type Usage = { lines: { resource: string; item: string; cost: string }[] };

/** What the stand-in's own meter says compute cost, by resource, over 28 days. */
async function metered(): Promise<Map<string, number>> {
  const costs = new Map<string, number>();
  const lastDay = Math.floor(WORLD_START / DAY) * DAY;
  for (const { provider, key } of ACCOUNTS) {
    for (let day = lastDay - HISTORY_DAYS * DAY; day <= lastDay; day += DAY) {
      const { lines } = await get<Usage>(`${world.standin.url}/${provider}/v1/usage?day=${day}`, key);
      for (const { resource, item, cost } of lines) {
        if (item === "compute" || item === "licence") costs.set(resource, (costs.get(resource) ?? 0) + Number(cost));
      }
    }
  }
  return costs;
}

test("what the core computes from state changes is what the stand-in's meter bills, within a granule per run", async () => {
  const { pool } = world.services;
  const [resources, book, accounts, bill] = await Promise.all([
    resourceList(pool),
    currentPrices(pool),
    accountList(pool),
    metered(),
  ]);
  const from = Math.floor(WORLD_START / DAY) * DAY - HISTORY_DAYS * DAY;
  // Spot prices float from day to day and a machine shut down from inside is billed by its provider's rule: both come with the price history.
  const compared = resources.filter(
    ({ kind, fields, state }) =>
      (kind === "machine" || kind === "service" || kind === "group") && fields.purchase === "firm" && state !== "halted",
  );
  const runs = await runsOf(
    pool,
    compared.map(({ id }) => id),
    { from, to: WORLD_START },
  );
  expect(compared.length).toBeGreaterThan(120);
  for (const resource of compared) {
    const capabilities = accounts.find(({ name }) => name === resource.fields.account)?.capabilities;
    if (!capabilities) throw new Error("unread account");
    const card = rateCard(resource, book, capabilities);
    let computed = 0n;
    let granules = 0;
    for (const run of runs.get(resource.id) ?? []) {
      computed += amountOf(billedSeconds(run.to - run.from, card.billing), computePerSecond(card, run.level));
      granules += Number(microsOf(amountOf(card.billing.granularityS, computePerSecond(card, run.level)))) / 1e6;
    }
    const difference = Math.abs(
      Number(microsOf(computed as Parameters<typeof microsOf>[0])) / 1e6 - (bill.get(resource.id) ?? 0),
    );
    expect(difference, resource.name).toBeLessThanOrEqual(granules + 0.001);
  }
});

test("a rate card knows every part of every resource of the scenario", async () => {
  const { pool } = world.services;
  const [resources, book, accounts] = await Promise.all([resourceList(pool), currentPrices(pool), accountList(pool)]);
  for (const resource of resources) {
    const capabilities = accounts.find(({ name }) => name === resource.fields.account)?.capabilities;
    if (!capabilities) throw new Error("unread account");
    const card = rateCard(resource, book, capabilities);
    expect(card.unpriced, resource.name).toEqual([]);
    if (resource.kind === "machine") expect(card.perLevel > (0n as AmountPerSecond)).toBe(true);
  }
});
