import { afterAll, beforeAll, expect, test } from "vitest";
import { DEMO_ACTOR } from "@/services/admin";
import { openMachine } from "@/services/inventory";
import { accountList, resourceList } from "@/store";
import { change, tell } from "../../standin/world/happen";
import type { Unit } from "../../standin/world/types";
import { within } from "../support/patience";
import { startTrusted, type Trusted } from "../support/trusted";

/** Feeds and clocks that are not what they should be: begun again at 1, and ahead of ours. Desks are off all day; a start is kept for two hours. */
const PLAN = `
umbrik: 1
schedules:
  - { name: none, zone: UTC, rows: [{ day: daily, off: true }] }
fleets:
  - { name: desks, select: "team = draughting and region = fjord-1", hours: none }
`;
let trusted: Trusted;
beforeAll(async () => {
  trusted = await startTrusted(PLAN, ["desks"], { at: Date.UTC(2027, 2, 16, 9) / 1000, accounts: ["skerry-desks"] });
  await trusted.rounds(12, 120);
}, within(60));
afterAll(() => trusted?.close());

const keyOf = ({ account, id }: Unit) => `${account}:${id}`;
const stateOf = (unit: Unit) => unit.life.at(-1)?.state;
const named = (name: string) => trusted.desks().find((unit) => unit.name === name) as Unit;
function startByHand(unit: Unit, ahead = 0): void {
  const at = trusted.keeper.now();
  change(unit, { at, state: "running", level: 1 });
  tell(trusted.keeper.world, unit, { at: at + ahead, type: "running", note: "from its own console" });
}
function stopByHand(unit: Unit, ahead = 0): void {
  const at = trusted.keeper.now();
  change(unit, { at, state: "stopped", level: 0 });
  tell(trusted.keeper.world, unit, { at: at + ahead, type: "stopped" });
}
const listed = async () => new Map((await resourceList(trusted.services.pool)).map((one) => [one.id, one]));
const storedOf = async (unit: Unit) => {
  const { rows } = await trusted.services.pool.query<{ at: number; state: string; n: string }>(
    "select at, state, n from state_change where resource_id = $1 and source = 'feed' order by at desc, n desc",
    [keyOf(unit)],
  );
  return rows;
};

test.each([90, 600])("a person's start told %i s ahead of our clock is kept as one of now", async (ahead) => {
  const desk = named(ahead === 90 ? "desk-osl-02" : "desk-osl-03");
  expect(stateOf(desk)).toBe("stopped");
  const began = trusted.keeper.now();
  // Its whole clock is ahead: the listing says so too.
  trusted.faults.rule(({ kind }) =>
    kind === "resources"
      ? {
          kind: "edit",
          edit: (body) => ({
            ...body,
            resources: (body.resources as Record<string, unknown>[]).map((one) =>
              one.id === desk.id ? { ...one, since: Number(one.since) + ahead, runSince: Number(one.runSince) + ahead } : one,
            ),
          }),
        }
      : undefined,
  );
  startByHand(desk, ahead);
  await trusted.rounds(3, 16);
  expect(stateOf(desk)).toBe("running");
  await trusted.rounds(30, 60);
  expect(stateOf(desk)).toBe("running");
  const [first] = await storedOf(desk);
  expect(first).toMatchObject({ state: "running" });
  expect(first?.at).toBeGreaterThanOrEqual(began);
  expect(first?.at).toBeLessThanOrEqual(began + 16);
  trusted.faults.rule(() => undefined);
  // Its clock is set right, and it is stopped by hand: no stop stands before its start, in rounds or in money.
  stopByHand(desk);
  await trusted.rounds(2, 60);
  const [stop, start] = await storedOf(desk);
  expect([start?.state, stop?.state]).toEqual(["running", "stopped"]);
  expect(stop?.at).toBeGreaterThanOrEqual(start?.at ?? Number.POSITIVE_INFINITY);
  expect((await openMachine(trusted.services, DEMO_ACTOR, { id: keyOf(desk), at: null })).resource).toMatchObject({
    state: "stopped",
  });
  await trusted.rounds(3, 60);
  expect(stateOf(desk)).toBe("stopped");
});

test("a clock that says how far it is ahead is taken off to the second, and moves nothing when it is set right", async () => {
  const desk = named("desk-osl-07");
  const { keeper, faults, services } = trusted;
  const before = await listed();
  // Whatever it tells is ten minutes ahead: its answers say so, too.
  const aheadS = 600;
  const later = (one: Record<string, unknown>) => ({
    ...one,
    ...(typeof one.since === "number" ? { since: one.since + aheadS } : {}),
    ...(typeof one.runSince === "number" ? { runSince: one.runSince + aheadS } : {}),
  });
  faults.rule(({ kind }) =>
    kind === "resources"
      ? {
          kind: "edit",
          aheadS,
          edit: (body) => ({ ...body, resources: (body.resources as Record<string, unknown>[]).map(later) }),
        }
      : undefined,
  );
  await trusted.round();
  const began = keeper.now();
  startByHand(desk, aheadS);
  // Its instants lie behind us when we look again.
  keeper.stepTo(keeper.now() + 900);
  await trusted.rounds(2, 60);
  expect((await storedOf(desk))[0]).toMatchObject({ state: "running", at: began });
  expect((await listed()).get(keyOf(desk))).toMatchObject({ state: "running", since: began, runSince: began });
  expect((await accountList(services.pool))[0]?.setAside).toMatchObject([
    { name: "its clock", why: "goes 600 s ahead of ours: its times are told by ours" },
  ]);
  faults.rule(() => undefined);
  await trusted.rounds(2, 60);
  expect((await accountList(services.pool))[0]?.setAside).toEqual([]);
  const after = await listed();
  for (const [id, { state, since }] of before)
    if (after.get(id)?.state === state) expect([id, after.get(id)?.since]).toEqual([id, since]);
  expect(after.get(keyOf(desk))).toMatchObject({ since: began, runSince: began });
  stopByHand(desk);
  await trusted.rounds(2, 60);
  expect(stateOf(desk)).toBe("stopped");
});

test("a clock that was ahead unseen and is set right tells no stop before a start", async () => {
  const desk = named("desk-osl-05");
  const { keeper } = trusted;
  // Nobody looked for twelve minutes; by then its instants lie behind us.
  startByHand(desk, 600);
  keeper.stepTo(keeper.now() + 300);
  stopByHand(desk, 0);
  keeper.stepTo(keeper.now() + 420);
  await trusted.round();
  const [stop, start] = await storedOf(desk);
  expect([start?.state, stop?.state]).toEqual(["running", "stopped"]);
  expect(stop?.at).toBe(start?.at);
  expect(stateOf(desk)).toBe("stopped");
});

test("a feed that begins again at 1 is read anew, said so, and nothing it told before is lost or counted twice", async () => {
  const { services, keeper, faults } = trusted;
  const [before] = await accountList(services.pool);
  const { rows: known } = await services.pool.query<{ n: number }>(
    "select count(*)::integer as n from state_change where source = 'feed'",
  );
  // From now on its events are numbered from 1; the first of them tells once more what was told last.
  const shift = Math.max(...keeper.world.events.map(({ n }) => n));
  const last = keeper.world.events.filter(({ account }) => account === "skerry-desks").at(-1);
  faults.rule(({ kind, path }) => {
    if (kind !== "events") return undefined;
    const after = Number(new URL(path, "http://cloud.example").searchParams.get("after"));
    const mine = keeper.world.events.filter(({ account, n }) => account === "skerry-desks" && n >= (last?.n ?? 0));
    const events = mine.map((event, i) => ({ ...event, n: i + 1 })).filter(({ n }) => n > after);
    const told = events.map(({ account: _, ...event }) => event);
    return { kind: "answer", status: 200, body: JSON.stringify({ events: told, isMore: false }) };
  });
  expect(shift).toBeGreaterThan(10);
  const desk = named("desk-osl-06");
  startByHand(desk);
  await trusted.round();
  const [account] = await accountList(services.pool);
  expect(account?.setAside).toContainEqual({
    id: null,
    name: "the feed",
    why: "it begins again at 1: it is read anew, and what it told before stands",
  });
  expect(account?.eventBase).toBe(before?.eventCursor);
  // It is a person's start, and is kept as one: had it not been read, the plan would have undone it.
  await trusted.rounds(4, 60);
  expect(stateOf(desk)).toBe("running");
  expect((await storedOf(desk))[0]).toMatchObject({ state: "running" });
  const { rows: after } = await services.pool.query<{ n: number }>(
    "select count(*)::integer as n from state_change where source = 'feed'",
  );
  expect(after[0]?.n).toBe((known[0]?.n ?? 0) + 1);
  // It goes on from there, and is not taken for another one again.
  stopByHand(desk);
  await trusted.rounds(2, 60);
  expect((await storedOf(desk))[0]).toMatchObject({ state: "stopped" });
  const [now] = await accountList(services.pool);
  expect(now?.eventBase).toBe(account?.eventBase);
  expect(now?.setAside).toEqual([]);
  expect((await resourceList(services.pool)).find(({ id }) => id === keyOf(desk))).toMatchObject({ state: "stopped" });
});
