import { afterAll, beforeAll, expect, test } from "vitest";
import { connectAccounts, DEMO_ACTOR, WORKER } from "@/services/admin";
import { burnPage, closeSpendDays } from "@/services/cost";
import { loadPlan } from "@/services/plans";
import { runRound, searchJournal } from "@/services/rounds";
import { ACCOUNTS } from "../../demo/accounts";
import { admit } from "../../standin/http/keys";
import { within } from "../support/patience";
import { type Here, startHere } from "../support/weeks/standin-here";

/** With keys that may only list, everything but acting works; what was refused stands in the journal. */
const START = Date.UTC(2027, 2, 16, 16, 30) / 1000;
const PLAN = `
umbrik: 1
schedules:
  - { name: office, zone: UTC, rows: [{ day: workdays, spans: ["07:00-18:00"] }] }
fleets:
  - { name: desks, select: "team = draughting and region = fjord-1", hours: office }
`;
let here: Here;
beforeAll(async () => {
  here = await startHere(START);
  for (const { name, provider } of ACCOUNTS) admit(`list-only-${name}`, { account: name, provider, rights: ["list"] });
  const { rows } = await here.services.pool.query<{ name: string; provider: string; baseUrl: string }>(
    'select name, provider, base_url as "baseUrl" from account',
  );
  await connectAccounts(
    here.services,
    DEMO_ACTOR,
    rows.map((account) => ({ ...account, key: `list-only-${account.name}` })),
  );
}, within(60));
afterAll(() => here?.close());

test("a key that may only list shows everything, and each action it is refused is told with the reason", async () => {
  const { services, keeper } = here;
  await runRound(services, WORKER, "act");
  await loadPlan(services, DEMO_ACTOR, { text: PLAN, inForce: ["desks"] });
  for (let t = START + 60; t <= START + 2 * 3600; t += 600) {
    keeper.stepTo(t);
    await runRound(services, WORKER, "act");
  }
  const { accounts, all } = await burnPage(services, DEMO_ACTOR, {
    filters: [],
    group: "none",
    sort: "name",
    isDescending: false,
    only: "all",
    opened: [],
    offset: 0,
    limit: 500,
    at: null,
  });
  expect(accounts.every(({ error }) => error === null)).toBe(true);
  expect(all.count).toBeGreaterThan(100);
  await closeSpendDays(services, WORKER);
  expect((await services.pool.query("select from spend_day")).rowCount).toBeGreaterThan(100);
  const { lines } = await searchJournal(services, DEMO_ACTOR, {
    text: "desks",
    outcome: "refused",
    from: null,
    to: null,
    before: null,
  });
  const desks = keeper.world.units.filter(({ tags, region }) => tags.team === "draughting" && region === "fjord-1");
  // Those that were off at half past four were to start, those that were on at six to stop.
  const isOn = ({ life }: (typeof desks)[number]) => !["stopped", "hibernated"].includes(life.at(-1)?.state ?? "");
  for (const [verb, those] of [
    ["start", desks.filter((unit) => !isOn(unit))],
    ["stop", desks.filter(isOn)],
  ] as const) {
    const refused = lines.filter((line) => line.verb === verb);
    expect(new Set(refused.map(({ name }) => name)), verb).toEqual(new Set(those.map(({ name }) => name)));
    expect(refused.every(({ lastAnswer }) => lastAnswer === `this key has no right to ${verb}`)).toBe(true);
  }
  const { rowCount } = await services.pool.query("select from action where status in ('done', 'sent', 'recorded')");
  expect(rowCount).toBe(0);
});
