import { afterAll, beforeAll, expect, test } from "vitest";
import { DEMO_ACTOR, type Services } from "@/services/admin";
import { acknowledge, setStrayAges, strayPage } from "@/services/cost";
import { journalPage, openRound, runRound, stopByHand } from "@/services/rounds";
import { startWorld, type TestWorld } from "../support/world";

let world: TestWorld;
let services: Services;
beforeAll(async () => {
  world = await startWorld();
  services = world.services;
  await runRound(services, DEMO_ACTOR, "act");
});
afterAll(() => world.close());

const strays = async () => (await strayPage(services, DEMO_ACTOR)).strays;
const ofKind = async (kind: string) => (await strays()).filter((line) => line.kind === kind);

test("every planted stray of the scenario is found", async () => {
  expect(await ofKind("disk without a machine")).toHaveLength(8);
  expect(await ofKind("address without a machine")).toHaveLength(5);
  expect(await ofKind("halted and billed")).toHaveLength(2);
  expect((await ofKind("running long")).map(({ name }) => name)).toContain("desk-osl-07");
  const tags = (await ofKind("tag that names nothing")).map(({ tag }) => tag?.found);
  expect(tags.some((found) => found?.startsWith("hours="))).toBe(true);
});

test("a stray said to be meant leaves the list until its day is over, and comes back when that is taken back", async () => {
  const [disk] = await ofKind("disk without a machine");
  const key = disk?.key ?? "";
  const before = await strayPage(services, DEMO_ACTOR);
  await expect(acknowledge(services, DEMO_ACTOR, { key, untilDay: "2027-03-10", reason: "kept" })).rejects.toThrow("2027-03-11");
  await expect(acknowledge(services, DEMO_ACTOR, { key, untilDay: "2027-03-12", reason: " " })).rejects.toThrow("why");
  await expect(acknowledge(services, DEMO_ACTOR, { key: "nothing", untilDay: "2027-03-12", reason: "x" })).rejects.toThrow(
    "no longer",
  );
  await acknowledge(services, DEMO_ACTOR, { key, untilDay: "2027-03-12", reason: "goes back on Friday" });
  const after = await strayPage(services, DEMO_ACTOR);
  expect(after.meant).toMatchObject([{ key, meant: { person: "demo", untilDay: "2027-03-12" } }]);
  expect(after.strays).toHaveLength(before.strays.length - 1);
  const then = await strayPage(services, DEMO_ACTOR, Date.UTC(2027, 2, 13, 1) / 1000);
  expect(then.meant).toEqual([]);
  await acknowledge(services, DEMO_ACTOR, { key, untilDay: null, reason: "" });
  expect((await strayPage(services, DEMO_ACTOR)).strays).toHaveLength(before.strays.length);
});

test("ages are set for all, and what is no number of days is refused", async () => {
  await setStrayAges(services, DEMO_ACTOR, { imageDays: 14, runDays: 45 });
  expect((await ofKind("running long")).map(({ name }) => name)).not.toContain("desk-osl-07");
  await setStrayAges(services, DEMO_ACTOR, { imageDays: 14, runDays: 30 });
  await expect(setStrayAges(services, DEMO_ACTOR, { imageDays: 0, runDays: 1.5 })).rejects.toThrow("whole numbers");
});

test("a machine stopped by hand stops, once, and the journal says who and why", async () => {
  const [desk] = (await ofKind("running long")).filter(({ name }) => name === "desk-osl-07");
  expect(desk?.canStop).toBe(true);
  const id = desk?.resourceId ?? "";
  expect(await stopByHand(services, DEMO_ACTOR, { resourceId: id, why: "left on" })).toEqual({ answer: "accepted" });
  await world.wait(120);
  await runRound(services, DEMO_ACTOR, "act");
  expect((await ofKind("running long")).map(({ name }) => name)).not.toContain("desk-osl-07");
  await expect(stopByHand(services, DEMO_ACTOR, { resourceId: id, why: "again" })).rejects.toThrow("off already");
  const { entries } = await journalPage(services, DEMO_ACTOR, { before: null, at: null });
  const rounds = entries.flatMap((entry) => (entry.kind === "round" ? [entry.round] : []));
  const own = rounds.find(({ sent, resources }) => sent === 1 && resources === 1);
  const { decisions } = await openRound(services, DEMO_ACTOR, { id: own?.id ?? 0, offset: 0 });
  expect(decisions.find(({ resourceId }) => resourceId === id)).toMatchObject({ why: "stopped by hand: left on", verb: "stop" });
});

test("what is guarded, or what its plan would start again, is not stopped by hand", async () => {
  const rows = await services.pool.query<{ id: string }>(
    "select id from resource where tags ? 'umbrik-guard' and kind = 'machine' limit 1",
  );
  const guarded = rows.rows[0]?.id ?? "";
  await expect(stopByHand(services, DEMO_ACTOR, { resourceId: guarded, why: "x" })).rejects.toThrow("guarded");
  await expect(stopByHand(services, DEMO_ACTOR, { resourceId: "nobody", why: "x" })).rejects.toThrow("no machine");
  await expect(stopByHand(services, DEMO_ACTOR, { resourceId: guarded, why: "" })).rejects.toThrow("why");
});
