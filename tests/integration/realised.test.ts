import { afterAll, beforeAll, expect, test } from "vitest";
import { GAP_CAUSES } from "@/core/realised";
import { DEMO_ACTOR, type Services, WORKER } from "@/services/admin";
import { closeSpendDays, measureSavings, realisedView } from "@/services/cost";
import { placeHold, runRound } from "@/services/rounds";
import { realisedDays, reopenDays } from "@/store";
import { within } from "../support/patience";
import { startWorld, type TestWorld } from "../support/world";

let world: TestWorld;
let services: Services;
const HOUR = 3600;
beforeAll(async () => {
  world = await startWorld();
  services = world.services;
  await runRound(services, DEMO_ACTOR, "act");
  const end = Date.UTC(2027, 2, 14, 1) / 1000;
  for (let now = Date.UTC(2027, 2, 11, 6) / 1000; now <= end; now += 2 * HOUR) {
    await world.stepTo(now);
    if (now === Date.UTC(2027, 2, 12, 6) / 1000) {
      const { rows } = await services.pool.query<{ id: string }>("select id from resource where name = 'archive-index-01'");
      const hold = { on: { resourceId: rows[0]?.id ?? "" }, level: 12, until: now + 6 * HOUR, reason: "index" };
      await placeHold(services, DEMO_ACTOR, hold);
    }
    await runRound(services, DEMO_ACTOR, "act");
  }
  await closeSpendDays(services, WORKER);
  await measureSavings(services, WORKER);
}, within(240));
afterAll(() => world.close());

const micros = (amount: bigint) => Number(amount) / 2_628_000_000 / 1e6;
const days = () => realisedDays(services.pool, { from: "2027-03-01", to: "2027-03-31" });

test("every whole day since the plan came into force is reckoned, for the fleet that has hours, and no day twice", async () => {
  expect((await days()).map(({ day, fleet }) => [day, fleet])).toEqual([
    ["2027-03-12", "archive-index"],
    ["2027-03-13", "archive-index"],
  ]);
  expect(await measureSavings(services, WORKER)).toEqual({ days: 0 });
});

test("what was paid is what the ledger says, and the causes add up to the gap exactly", async () => {
  for (const { day, paid, projected, gap } of await days()) {
    const { rows } = await services.pool.query<{ sum: string }>(
      `select sum(total + covered)::text as sum from spend_day s join resource r on r.id = s.resource_id
       where day = $1 and r.name like 'archive-index%'`,
      [day],
    );
    expect(String(paid)).toBe(rows[0]?.sum);
    expect(GAP_CAUSES.reduce((sum, cause) => sum + gap[cause], 0n)).toBe(paid - projected);
  }
});

test("the hold of Friday is named as its cause: six hours of six cores more than planned", async () => {
  const [friday, saturday] = await days();
  const core = 0.2115 + 0.385;
  // Less the minute that the provider took to get there.
  expect(micros(friday?.gap.holds ?? 0n)).toBeLessThanOrEqual(6 * 6 * core);
  expect(micros(friday?.gap.holds ?? 0n)).toBeGreaterThan(6 * 6 * core - 0.1);
  expect(micros(saturday?.gap.holds ?? 0n)).toBe(0);
});

test("a rest day at two cores saves beside the four weeks before, when nobody lowered anything", async () => {
  const [, saturday] = await days();
  expect(saturday?.before).not.toBeNull();
  expect(micros((saturday?.before ?? 0n) - (saturday?.paid ?? 0n))).toBeGreaterThan(20);
});

test("shown causes add up to the shown gap, and shown parts to what they are parts of", async () => {
  const view = await realisedView(services, DEMO_ACTOR, { fleet: null });
  const number = (text: string) => Number(text.replace("\u2212", "-").replaceAll("\u00a0", ""));
  const [fleet] = view.fleets;
  expect(fleet).toMatchObject({ fleet: "archive-index", days: 2 });
  expect(fleet?.causes.reduce((sum, { amount }) => sum + Math.round(number(amount) * 100), 0)).toBe(
    Math.round(number(fleet?.gap ?? "") * 100),
  );
  expect(view.series).toHaveLength(2);
  expect(view.series[0]?.projected).toBeGreaterThan(view.series[0]?.saved ?? 0);
  expect((await realisedView(services, DEMO_ACTOR, { fleet: "nobody" })).series).toEqual([]);
});

test("days that are opened again are reckoned again, to the same", async () => {
  const before = await days();
  await reopenDays(services.pool, "2027-03-13", { cause: "looked at again", person: "demo", at: 0 });
  expect(await days()).toHaveLength(1);
  await closeSpendDays(services, WORKER);
  expect(await measureSavings(services, WORKER)).toEqual({ days: 1 });
  expect(await days()).toEqual(before);
});
