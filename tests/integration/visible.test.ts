import { afterAll, beforeAll, expect, test } from "vitest";
import { type Actor, DEMO_ACTOR, NotAllowedError } from "@/services/admin";
import { burnPage, spendNow, strayPage } from "@/services/cost";
import { findResources, setupView } from "@/services/inventory";
import { fleetSummaries, previewInForce, putInForce, storedDraft } from "@/services/plans";
import { askForRound, comingEdges, holdList, placeHold, releaseHold, runRound } from "@/services/rounds";
import { startWorld, type TestWorld } from "../support/world";

let world: TestWorld;
beforeAll(async () => {
  world = await startWorld();
  const { services } = world;
  for (const fleet of await fleetSummaries(services, DEMO_ACTOR)) {
    if (!["draughting-santiago", "draughting-auckland"].includes(fleet.name)) continue;
    const { draft, version } = await storedDraft(services, DEMO_ACTOR, fleet.id);
    const { stops } = await previewInForce(services, DEMO_ACTOR, draft);
    await putInForce(services, DEMO_ACTOR, { id: fleet.id, version, why: "for the test", confirmedStops: stops.length });
  }
  await runRound(services, DEMO_ACTOR, "act");
});
afterAll(() => world?.close());

const REACH = { fleets: ["draughting-santiago"], accounts: ["skerry-south"] };
const LIMITED: Actor = {
  name: "h.lomvi",
  grants: [
    { right: "look", reach: REACH },
    { right: "hold", reach: REACH },
    { right: "ask for rounds", reach: REACH },
  ],
};
const EVERYTHING = {
  filters: [],
  group: "none",
  sort: "perHour",
  isDescending: true,
  only: "all",
  opened: [],
  offset: 0,
  limit: 500,
  at: null,
} as const;

test("who may look at one account and one fleet finds, counts and sums nothing else", async () => {
  const { services } = world;
  const [all, own] = await Promise.all(
    [DEMO_ACTOR, LIMITED].map((actor) => findResources(services, actor, { text: "", offset: 0, limit: 1000, at: null })),
  );
  const isOwn = ({ account, fleet }: { account: string; fleet: string | null }) =>
    account === "skerry-south" || fleet === "draughting-santiago";
  expect(own?.total).toBeGreaterThan(10);
  expect(own?.items.map(({ id }) => id).sort()).toEqual(
    all?.items
      .filter(isOwn)
      .map(({ id }) => id)
      .sort(),
  );
  const burn = await burnPage(services, LIMITED, { ...EVERYTHING });
  const whole = await burnPage(services, DEMO_ACTOR, { ...EVERYTHING });
  expect(burn.lineCount).toBeLessThan(whole.lineCount);
  expect(burn.lines.every((line) => line.kind === "rest" || (line.kind === "machine" && isOwn(line)))).toBe(true);
  expect(burn.accounts.map(({ name }) => name)).toEqual(["skerry-south"]);
  const now = await spendNow(services, LIMITED);
  expect(now.running).toBe(whole.lines.filter((line) => line.kind === "machine" && isOwn(line)).length);
  expect((await setupView(services, LIMITED)).accounts.map(({ name }) => name)).toEqual(["skerry-south"]);
  expect((await fleetSummaries(services, LIMITED)).map(({ name }) => name)).toEqual(["draughting-santiago"]);
  const strays = await strayPage(services, LIMITED);
  expect(strays.strays.length).toBeLessThan((await strayPage(services, DEMO_ACTOR)).strays.length);
  const coming = await comingEdges(services, LIMITED);
  expect(coming.length).toBeGreaterThan(0);
  expect(coming.length).toBeLessThan((await comingEdges(services, DEMO_ACTOR)).length);
});

test("a hold is placed and ended where its machine's fleet or account is one's own, and refused elsewhere", async () => {
  const { services } = world;
  const fleets = await fleetSummaries(services, DEMO_ACTOR);
  const { items } = await findResources(services, DEMO_ACTOR, { text: "", offset: 0, limit: 1000, at: null });
  const inForce = new Set(fleets.filter(({ isInForce }) => isInForce).map(({ name }) => name));
  const others = items.find(
    ({ fleet, account }) => fleet !== null && inForce.has(fleet) && fleet !== "draughting-santiago" && account !== "skerry-south",
  );
  const desk = items.find(({ fleet }) => fleet === "draughting-santiago");
  const hold = (resourceId: string) =>
    placeHold(services, LIMITED, { on: { resourceId }, level: 1, until: null, reason: "at work" });
  await expect(hold(others?.id ?? "")).rejects.toThrow(NotAllowedError);
  const placed = await hold(desk?.id ?? "");
  const theirs = await placeHold(services, DEMO_ACTOR, {
    on: { resourceId: others?.id ?? "" },
    level: 1,
    until: null,
    reason: "x",
  });
  await expect(releaseHold(services, LIMITED, theirs.id)).rejects.toThrow(NotAllowedError);
  await releaseHold(services, LIMITED, placed.id);
  expect((await holdList(services, DEMO_ACTOR)).current.map(({ id }) => id)).toEqual([theirs.id]);
});

test("who pressed travels with the job of a round", async () => {
  const { services } = world;
  await expect(askForRound(services, LIMITED, { mode: "act" })).rejects.toThrow(NotAllowedError);
  await askForRound(services, DEMO_ACTOR, { mode: "act", fleet: "draughting-santiago" });
  const { rows } = await services.pool.query<{ payload: object }>(
    "select payload from graphile_worker._private_jobs where key = 'round draughting-santiago'",
  );
  expect(rows).toEqual([{ payload: { by: "demo", fleet: "draughting-santiago" } }]);
});
