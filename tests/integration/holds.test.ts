import { afterAll, beforeAll, expect, test } from "vitest";
import { DEMO_ACTOR, type Services } from "@/services/admin";
import { burnPage } from "@/services/cost";
import { openMachine } from "@/services/inventory";
import { holdList, placeHold, releaseHold, runRound, stoppedByHold } from "@/services/rounds";
import { startWorld, type TestWorld } from "../support/world";

let world: TestWorld;
let services: Services;
let index: string;
beforeAll(async () => {
  world = await startWorld();
  services = world.services;
  await act();
  index = await idOf("archive-index-01");
});
afterAll(() => world?.close());

const act = () => runRound(services, DEMO_ACTOR, "act");
const look = (id: string, at: number | null = null) => openMachine(services, DEMO_ACTOR, { id, at });
async function idOf(name: string): Promise<string> {
  const { rows } = await services.pool.query<{ id: string }>("select id from resource where name = $1::text", [name]);
  return (rows[0] as { id: string }).id;
}
const now = async () => (await services.clock.read()).now;
const place = async (more: object = {}) =>
  placeHold(services, DEMO_ACTOR, {
    on: { resourceId: index },
    level: 12,
    until: (await now()) + 7200,
    reason: "rebuild",
    ...more,
  });

test("a second press is the first: one hold, also when both come at once; another level or reason is another hold", async () => {
  const until = (await now()) + 7200;
  const both = await Promise.all([place({ until }), place({ until })]);
  const again = await place({ until });
  expect(new Set([...both, again].map(({ id }) => id)).size).toBe(1);
  const other = await place({ until, reason: "another" });
  expect(other.id).not.toBe(again.id);
  await releaseHold(services, DEMO_ACTOR, other.id);
  await releaseHold(services, DEMO_ACTOR, again.id);
  const anew = await place({ until });
  expect(anew.id, "what was released is placed anew").not.toBe(again.id);
  await releaseHold(services, DEMO_ACTOR, anew.id);
});

test("a hold goes before the hours in the next round, and its release after it", async () => {
  expect((await look(index)).due?.level).toBe(6);
  const hold = await place();
  await act();
  const held = await look(index);
  expect(held.due).toMatchObject({ level: 12, decidedBy: "hold on the resource" });
  expect(held.resource.target).toBe(12);
  expect(held.edges[0]).toMatchObject({ at: hold.to, to: 6, decidedBy: "hours" });
  const { lines } = await burnPage(services, DEMO_ACTOR, {
    filters: ["archive-index-01"],
    group: "none",
    sort: "name",
    isDescending: false,
    only: "all",
    opened: [],
    offset: 0,
    limit: 5,
    at: null,
  });
  expect(lines[0]).toMatchObject({ kind: "machine", hold: { id: hold.id, to: hold.to, reason: "rebuild" } });

  await releaseHold(services, DEMO_ACTOR, hold.id);
  expect((await look(index)).due?.level).toBe(6);
  await expect(releaseHold(services, DEMO_ACTOR, hold.id)).rejects.toThrow("ended already");
  const { current, ended } = await holdList(services, DEMO_ACTOR);
  expect(current).toEqual([]);
  expect(ended[0]).toMatchObject({ id: hold.id, person: "demo", reason: "rebuild" });
});

test("one press keeps a machine as it is for four hours; the last placed counts, and a fleet's hold comes after its machine's", async () => {
  const pressed = await place({ until: null, level: 6 });
  expect(pressed.to - pressed.from).toBe(4 * 3600);
  const newer = await place({ level: 8 });
  expect((await look(index)).due?.level).toBe(8);
  const fleet = await place({ on: { fleet: "archive-index" }, level: 2 });
  expect((await look(index)).due?.level).toBe(8);
  expect((await look(await idOf("archive-index-02"))).due).toMatchObject({ level: 2, decidedBy: "hold on the fleet" });
  for (const { id } of [pressed, newer, fleet]) await releaseHold(services, DEMO_ACTOR, id);
});

test("a hold that cannot be, or that nobody would act on, is refused with the reason", async () => {
  const t = await now();
  await expect(place({ until: t - 60 })).rejects.toMatchObject({ fields: [{ path: "until" }] });
  await expect(place({ until: t + 91 * 86_400 })).rejects.toThrow("a hold ends within 90 days");
  await expect(place({ level: 25 })).rejects.toThrow("runs at most at level 24");
  await expect(place({ reason: "  " })).rejects.toMatchObject({ fields: [{ path: "reason" }] });
  await expect(place({ on: { resourceId: "nothing" } })).rejects.toMatchObject({ code: "not_found" });
  await expect(place({ on: { fleet: "training" } })).rejects.toThrow("not in force");
  await expect(place({ on: { resourceId: await idOf("harbour-north-01") } })).rejects.toThrow("guarded");
  await expect(place({ on: { resourceId: await idOf("desk-osl-01") }, level: 1 })).rejects.toThrow(
    "No fleet in force has desk-osl-01",
  );
});

test("before a fleet is held off it is said whom that stops, and nothing is stopped by asking", async () => {
  const stops = await stoppedByHold(services, DEMO_ACTOR, { fleet: "archive-index", level: 0 });
  expect([...stops].sort()).toEqual(["archive-index-01", "archive-index-02"]);
  expect(await stoppedByHold(services, DEMO_ACTOR, { fleet: "harbour", level: 0 }), "guarded").toEqual([]);
  expect(await stoppedByHold(services, DEMO_ACTOR, { fleet: "archive-index", level: 6 })).toEqual([]);
  expect((await holdList(services, DEMO_ACTOR)).current.filter(({ fleet }) => fleet !== null)).toEqual([]);
});

test("a guarded machine under a hold of its fleet is not off that runs: the guard goes first on Burn as in rounds", async () => {
  const held = await placeHold(services, DEMO_ACTOR, { on: { fleet: "harbour" }, level: 0, until: null, reason: "a drill" });
  const line = async () =>
    (
      await burnPage(services, DEMO_ACTOR, {
        filters: ["name = harbour-north-01"],
        group: "none",
        sort: "perHour",
        isDescending: true,
        only: "all",
        opened: [],
        offset: 0,
        limit: 10,
        at: null,
      })
    ).lines[0];
  expect(await line()).toMatchObject({ kind: "machine", name: "harbour-north-01", due: "leave", hold: null });
  await act();
  expect((await look(await idOf("harbour-north-01"))).due).toMatchObject({ level: null, decidedBy: "guard" });
  expect(await line()).toMatchObject({ due: "leave", hold: null });
  await releaseHold(services, DEMO_ACTOR, held.id);
});

test("as of another instant a machine says what is due then, with every row and the edges after it", async () => {
  const restday = Date.UTC(2027, 2, 27, 20) / 1000;
  const then = await look(index, restday);
  expect(then.due).toMatchObject({ level: 2, decidedBy: "hours" });
  expect(then.rows.map(({ rule, applies }) => [rule, applies])).toEqual([
    ["restdays", true],
    ["tue,fri", false],
    ["outside", false],
  ]);
  expect(then.edges).toHaveLength(10);
  // Easter to Tuesday, with the night on which Oslo springs forward in between.
  expect(then.edges[0]).toMatchObject({ at: Date.UTC(2027, 2, 29, 22) / 1000, to: 6, clockChangeS: -3600 });
  await expect(look("nothing")).rejects.toMatchObject({ code: "not_found" });
});

test("a hold that was released counts as of a time before its release", async () => {
  const hold = await place({ level: 9 });
  await world.wait(600);
  await releaseHold(services, DEMO_ACTOR, hold.id);
  await world.wait(600);
  expect((await look(index, hold.from + 300)).due?.level).toBe(9);
  expect((await look(index, hold.from + 900)).due?.level).toBe(6);
});
