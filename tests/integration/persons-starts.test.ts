import { afterAll, beforeAll, beforeEach, expect, test } from "vitest";
import { DEMO_ACTOR, WORKER } from "@/services/admin";
import { openMachine } from "@/services/inventory";
import { makeWebhook, notifyOfEvents } from "@/services/notify";
import { holdList, moveHoldEnd, placeHold, releaseHold, runRound } from "@/services/rounds";
import { change, tell } from "../../standin/world/happen";
import type { Unit } from "../../standin/world/types";
import { within } from "../support/patience";
import { HOUR, startTrusted, type Trusted } from "../support/trusted";

/** Desks that are off for the night, and somebody who starts one from elsewhere. */
const NIGHT = `
umbrik: 1
schedules:
  - name: office
    zone: UTC
    rows: [{ day: daily, spans: ["08:00-18:00"] }]
fleets:
  - { name: short, select: "name = desk-osl-03", hours: office, grace: 30 }
  - { name: none, select: "name = desk-osl-04", hours: office, grace: 0 }
  - { name: desks, select: "team = draughting and region = fjord-1", hours: office }
`;
let trusted: Trusted;
let day = 0;
beforeAll(async () => {
  trusted = await startTrusted(NIGHT, ["short", "none", "desks"], { at: Date.UTC(2027, 2, 16, 16, 30) / 1000 });
}, within(60));
afterAll(() => trusted?.close());

const named = (name: string) => trusted.keeper.world.units.find((unit) => unit.name === name) as Unit;
const keyOf = ({ account, id }: Unit) => `${account}:${id}`;
const stateOf = (unit: Unit) => unit.life.at(-1)?.state;
const isUp = (unit: Unit) => stateOf(unit) === "running";
const machine = (unit: Unit) => openMachine(trusted.services, DEMO_ACTOR, { id: keyOf(unit), at: null });
function startByHand(unit: Unit, note = "from its own console"): void {
  const at = trusted.keeper.now();
  change(unit, { at, state: "running", level: 1 });
  tell(trusted.keeper.world, unit, { at, type: "running", note });
}
function stopByHand(unit: Unit): void {
  const at = trusted.keeper.now();
  change(unit, { at, state: "stopped", level: 0 });
  tell(trusted.keeper.world, unit, { at, type: "stopped" });
}
/** Rounds every ten minutes up to an instant, and one just after it. */
async function until(at: number): Promise<void> {
  while (trusted.keeper.now() + 600 < at) await trusted.rounds(1, 600);
  trusted.keeper.stepTo(at + 5);
  await trusted.round();
}

beforeEach(async () => {
  // The office closes, and all is off.
  day += 1;
  trusted.keeper.stepTo(Date.UTC(2027, 2, 16 + day, 7, 59, 50) / 1000);
  await trusted.rounds(12, 61);
  trusted.keeper.stepTo(Date.UTC(2027, 2, 16 + day, 18, 0, 10) / 1000);
  await trusted.rounds(6, 61);
});

test("a start by hand at night is kept for two hours, said on its page, and ends by itself", async () => {
  const desk = named("desk-osl-07");
  startByHand(desk);
  const began = trusted.keeper.now();
  await makeWebhook(trusted.services, DEMO_ACTOR, "https://hooks.example/umbrik");
  await trusted.rounds(3, 61);
  await notifyOfEvents(trusted.services, WORKER);
  await notifyOfEvents(trusted.services, WORKER);
  const { rows: told } = await trusted.services.pool.query<{ body: string }>(
    "select body from webhook_delivery where type = 'umbrik.start.kept'",
  );
  expect(told).toHaveLength(1);
  expect(JSON.parse(told[0]?.body ?? "")).toMatchObject({
    subject: keyOf(desk),
    data: { name: desk.name, owner: desk.tags.owner },
  });
  expect(isUp(desk)).toBe(true);
  const { due, holds, runs } = await machine(desk);
  expect(due).toMatchObject({ level: 1, decidedBy: "person's start" });
  expect(holds).toMatchObject([
    { kind: "start", from: began, to: began + 2 * HOUR, reason: "somebody started it: from its own console" },
  ]);
  expect(runs[0]).toMatchObject({ to: null, began: { action: null } });
  await until(began + 2 * HOUR - 60);
  expect(isUp(desk)).toBe(true);
  await until(began + 2 * HOUR + 60);
  await trusted.rounds(2, 61);
  expect(stateOf(desk)).toBe("stopped");
  expect((await machine(desk)).holds).toEqual([]);
});

test("each fleet says how long, and none for none", async () => {
  const [short, none] = [named("desk-osl-03"), named("desk-osl-04")];
  startByHand(short);
  startByHand(none);
  const began = trusted.keeper.now();
  await trusted.rounds(3, 61);
  expect([isUp(short), isUp(none)]).toEqual([true, false]);
  await until(began + 31 * 60);
  await trusted.rounds(2, 61);
  expect(isUp(short)).toBe(false);
});

test("it can be lengthened, twice over harmlessly, and ended, and once ended it stays ended", async () => {
  const { services } = trusted;
  const desk = named("desk-osl-08");
  startByHand(desk);
  const began = trusted.keeper.now();
  await trusted.rounds(1, 61);
  const [start] = (await machine(desk)).holds;
  const end = { id: start?.id ?? 0, until: began + 4 * HOUR };
  await moveHoldEnd(services, DEMO_ACTOR, end);
  await moveHoldEnd(services, DEMO_ACTOR, end);
  expect((await machine(desk)).holds).toMatchObject([{ to: began + 4 * HOUR }]);
  await expect(moveHoldEnd(services, DEMO_ACTOR, { ...end, until: began - 1 })).rejects.toThrow("ahead of now");
  await until(began + 3 * HOUR);
  expect(isUp(desk)).toBe(true);
  await releaseHold(services, DEMO_ACTOR, end.id);
  await trusted.rounds(3, 61);
  expect(stateOf(desk)).toBe("stopped");
  expect((await holdList(services, DEMO_ACTOR)).current).toEqual([]);
});

test("it gives way to a hold, and to whoever turns the machine off again", async () => {
  const { services } = trusted;
  const [held, left] = [named("desk-osl-09"), named("desk-osl-10")];
  startByHand(held);
  startByHand(left);
  await trusted.rounds(1, 61);
  stopByHand(left);
  await placeHold(services, DEMO_ACTOR, {
    on: { resourceId: keyOf(held) },
    level: 0,
    until: trusted.keeper.now() + HOUR,
    reason: "the room is locked",
  });
  await trusted.rounds(4, 61);
  expect([stateOf(held), stateOf(left)]).toEqual(["stopped", "stopped"]);
  expect((await machine(left)).holds).toEqual([]);
});

test("a start of ours is no person's, and a rehearsal keeps nothing and foresees no stop", async () => {
  const { services } = trusted;
  const [ours, theirs] = [named("desk-osl-11"), named("desk-osl-12")];
  await placeHold(services, DEMO_ACTOR, {
    on: { resourceId: keyOf(ours) },
    level: 1,
    until: trusted.keeper.now() + 600,
    reason: "a short look",
  });
  await trusted.rounds(3, 61);
  expect(isUp(ours)).toBe(true);
  startByHand(theirs);
  trusted.keeper.stepTo(trusted.keeper.now() + 30);
  const id = await runRound(services, WORKER, "rehearse");
  const { rows } = await services.pool.query("select resource_id from decision where round_id = $1 and verdict = 'act'", [id]);
  expect(rows).toEqual([]);
  expect((await holdList(services, DEMO_ACTOR)).current.filter(({ kind }) => kind === "start")).toEqual([]);
  await trusted.rounds(10, 61);
  await trusted.rounds(2, 61);
  expect([isUp(ours), isUp(theirs)]).toEqual([false, true]);
});
