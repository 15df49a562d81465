import { expect, test } from "vitest";
import { asLevel, scheduleSchema } from "@/core/hours";
import { pooledSchema } from "@/core/plan";
import { newOverride } from "@/core/rounds";
import type { Fleet, StoredOverride, StoredResource } from "@/store";
import { aFleet, aMachine, PROVIDER } from "../../../tests/support/make";
import type { Snapshot } from "../inventory";
import { poolChanges, poolsOf } from "./reconcile-pools";

/** A Thursday, 10:00 in UTC: the pool's hours want two. */
const NOW = Date.UTC(2027, 2, 11, 10) / 1000;
const HOURS = scheduleSchema.parse({ name: "s", zone: "UTC", rows: [{ day: "daily", spans: ["08:00-18:00 x2"] }] });
const off = { state: "stopped" as const, level: asLevel(0), target: asLevel(0), runSince: null };

function worldOf(machines: readonly ReturnType<typeof aMachine>[]): Snapshot {
  const plan = aFleet({ pooled: pooledSchema.parse({ spare: 0 }) });
  const resources = machines.map((one) => ({ ...one, due: null, fleet: "f", verdict: null, why: "" }) as StoredResource);
  const fleet = {
    id: 1,
    name: "f",
    rank: 1,
    version: 1,
    inForce: plan,
    firstInForceAt: 0,
    retiredAt: null,
    basis: null,
  } as unknown as Fleet;
  return {
    accounts: [],
    capabilities: new Map([["a1", PROVIDER]]),
    resources,
    schedulable: resources,
    fleets: [fleet],
    schedules: [HOURS],
    calendars: [],
    likely: new Map(),
  };
}

const machines = (...states: readonly boolean[]) =>
  states.map((isOn, i) =>
    aMachine({ id: `m${i}`, name: `m${i}`, runSince: NOW - 7200, since: NOW - 7200 - i, ...(isOn ? {} : off) }),
  );

test("what differs from the hours of a machine's place is an override: who runs stays, and another stands down in its place", () => {
  // By place m0 and m1 are on; m1 is off and m2 runs, so m2 is chosen.
  const snapshot = worldOf(machines(true, false, true));
  expect(poolsOf(snapshot, NOW)[0]?.target.source).toBe("hours");
  const { add, end, move } = poolChanges(
    { snapshot, overrides: [], now: NOW },
    { sessions: new Map([["f", null]]), failing: new Set() },
  );
  expect(add.map(({ kind, resourceId, level }) => [kind, resourceId, level])).toEqual([
    ["ready", "m1", 0],
    ["ready", "m2", 1],
  ]);
  expect([end[0]?.ids, move]).toEqual([[], []]);
  // Until the hours say otherwise.
  expect(add.every(({ to }) => to === NOW + 8 * 3600)).toBe(true);
});

test("a choice that stands goes on and only its end moves; one that is none any more ends", () => {
  const snapshot = worldOf(machines(true, false, true));
  const kept = (id: number, resourceId: string, level: number): StoredOverride => ({
    ...newOverride("ready", {
      resourceId,
      level: asLevel(level),
      from: NOW - 60,
      to: NOW + 60,
      reason: "r",
      person: "ready machines",
    }),
    id,
    name: resourceId,
    releasedAt: null,
  });
  const overrides = [kept(1, "m1", 0), kept(2, "m2", 1), kept(3, "m0", 0)];
  const { add, end, move } = poolChanges(
    { snapshot, overrides, now: NOW },
    { sessions: new Map([["f", null]]), failing: new Set() },
  );
  expect(add).toEqual([]);
  expect(end).toEqual([{ ids: [3], at: NOW, by: "ready machines" }]);
  expect(move).toEqual([
    { id: 1, to: NOW + 8 * 3600 },
    { id: 2, to: NOW + 8 * 3600 },
  ]);
});

test("a machine that could not be started gives its place to one that can", () => {
  const snapshot = worldOf(machines(true, false, false));
  const sessions = new Map([["f", null]]);
  const chosen = (failing: readonly string[]) =>
    poolChanges({ snapshot, overrides: [], now: NOW }, { sessions, failing: new Set(failing) }).add.map(
      ({ resourceId, level }) => [resourceId, level],
    );
  expect(chosen(["m1"])).toEqual([
    ["m1", 0],
    ["m2", 1],
  ]);
  expect(chosen(["m2"])).toEqual([]);
});
