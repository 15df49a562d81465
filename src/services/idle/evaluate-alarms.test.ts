import { expect, test } from "vitest";
import { asLevel } from "@/core/hours";
import { idleRuleSchema, ruleKey } from "@/core/idle";
import { newOverride } from "@/core/rounds";
import type { Fleet, RecentSample, StoredAlarm, StoredOverride, StoredResource } from "@/store";
import { aFleet, aMachine, PROVIDER } from "../../../tests/support/make";
import type { Snapshot } from "../inventory";
import { evaluateAll, idleChanges, watchedOf } from "./evaluate-alarms";

const NOW = Date.UTC(2027, 2, 11, 12) / 1000;
const STEP = 300;
const rule = (more: object = {}) =>
  idleRuleSchema.parse({
    match: "all",
    conditions: [{ metric: "cpu", statistic: "mean", op: "<", threshold: 5, window: 30 }],
    step: 5,
    ...more,
  });

function worldOf(rules: readonly ReturnType<typeof rule>[], more: Parameters<typeof aMachine>[0] = {}): Snapshot {
  const plan = aFleet({ hours: undefined, idle: rules });
  const resource = {
    ...aMachine({ runSince: NOW - 86_400, ...more }),
    due: null,
    fleet: "f",
    verdict: null,
    why: "",
  } as StoredResource;
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
    resources: [resource],
    schedulable: [resource],
    fleets: [fleet],
    schedules: [],
    calendars: [],
    likely: new Map(),
  };
}

const quiet: readonly RecentSample[] = Array.from({ length: 12 }, (_, i) => ({
  resourceId: "m1",
  metric: "cpu",
  at: NOW - (11 - i) * STEP,
  stepS: STEP,
  value: 1,
}));

function evaluated(
  snapshot: Snapshot,
  {
    overrides = [],
    stored = [],
    held = new Map(),
    samples = quiet,
  }: {
    overrides?: readonly StoredOverride[];
    stored?: readonly StoredAlarm[];
    held?: ReadonlyMap<string, unknown>;
    samples?: readonly RecentSample[];
  } = {},
) {
  const state = { snapshot, overrides, held, now: NOW };
  const watched = watchedOf(snapshot);
  const looks = evaluateAll(watched, {
    ...state,
    stored,
    samples: new Map([["m1", samples]]),
    pauses: [],
    lateness: { of: () => null, ofSource: () => null },
  });
  return idleChanges(state, { watched, stored, looks, usual: new Map() });
}

test("two rules that read the same are two alarms, each with its own key, and only the one that stops trips", () => {
  const [tell, stop] = [rule({ action: "tell" }), rule({ action: "stop" })];
  const { alarms, overrides } = evaluated(worldOf([tell, stop, stop]));
  expect(alarms.alarms.map(({ rule: key, state }) => [key, state])).toEqual([
    [ruleKey(tell), "tripped"],
    [ruleKey(stop), "tripped"],
  ]);
  expect(overrides.add).toEqual([
    expect.objectContaining({ kind: "trip", ruleKey: ruleKey(stop), offAction: "stop", level: 0, person: "an idle alarm" }),
  ]);
});

test("a trip in effect keeps its rule's alarm tripped and no other's; one of a machine that was started since ends", () => {
  const [stop, sleep] = [rule({ action: "stop" }), rule({ action: "hibernate", warn: 120 })];
  const snapshot = worldOf([stop, sleep]);
  const trip = (from: number): StoredOverride => ({
    ...newOverride("trip", {
      resourceId: "m1",
      ruleKey: ruleKey(stop),
      offAction: "stop",
      level: asLevel(0),
      from,
      to: NOW + 3600,
      reason: "r",
      person: "an idle alarm",
    }),
    id: 7,
    name: "m1",
    releasedAt: null,
  });
  const stored = evaluated(snapshot).alarms.alarms;
  expect(stored.map(({ state }) => state)).toEqual(["tripped", "warned"]);
  const inEffect = evaluated(snapshot, { overrides: [trip(NOW - 60)], stored });
  expect(inEffect.alarms).toEqual({ alarms: [], gone: [], changes: [] });
  expect(inEffect.overrides.add).toEqual([]);
  expect(inEffect.overrides.end[0]?.ids).toEqual([]);
  expect(evaluated(snapshot, { overrides: [trip(NOW - 2 * 86_400)] }).overrides.end[0]).toEqual({
    ids: [7],
    at: NOW,
    by: "its start",
  });
});

test("a trip whose stop is held back is looked at further: it goes on while nobody is there, and ends when somebody is", () => {
  const own = rule({ action: "stop" });
  const snapshot = worldOf([own]);
  const stored = evaluated(snapshot).alarms.alarms.map((alarm) => ({ ...alarm, seenUntil: NOW - 20 * 60 }));
  const trip: StoredOverride = {
    ...newOverride("trip", {
      resourceId: "m1",
      ruleKey: ruleKey(own),
      level: asLevel(0),
      from: NOW - 3600,
      to: NOW + 3600,
      reason: "r",
      person: "p",
    }),
    id: 7,
    name: "m1",
    releasedAt: null,
  };
  const held = new Map([["m1", true]]);
  const given = { overrides: [trip], stored, held };
  const goesOn = evaluated(snapshot, given);
  expect(goesOn.overrides).toMatchObject({ end: [{ ids: [] }, { ids: [] }], add: [] });
  expect(goesOn.alarms.alarms.map(({ state }) => state)).toEqual(["tripped"]);
  const used = evaluated(snapshot, { ...given, samples: quiet.map((sample) => ({ ...sample, value: 60 })) });
  expect(used.overrides.end[1]).toEqual({ ids: [7], at: NOW, by: "its use" });
  expect(used.alarms.changes.map(({ state }) => state)).toEqual(["watching"]);
  // One that is not held back is off, and nobody looks at it.
  const off = evaluated(snapshot, { ...given, held: new Map(), samples: quiet.map((sample) => ({ ...sample, value: 60 })) });
  expect(off.overrides.end[1]?.ids).toEqual([]);
});

test("a guarded machine is not watched", () => {
  expect(watchedOf(worldOf([rule()], { tags: { team: "draughting", "umbrik-guard": "" } }))).toEqual([]);
});
