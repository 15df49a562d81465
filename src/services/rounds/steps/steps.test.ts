import { expect, test } from "vitest";
import { asLevel, scheduleSchema } from "@/core/hours";
import { planToDraft } from "@/core/plan";
import { NO_OVERRIDE_CHANGES, newOverride } from "@/core/rounds";
import type { Action, Fleet, StoredOverride, StoredResource } from "@/store";
import { aFleet, aMachine, PROVIDER } from "../../../../tests/support/make";
import type { DecisionFacts } from "../round-input";
import { NOTHING_TRIED } from "../send-actions";
import { decide } from "./decide";
import { record } from "./record";
import type { RoundState } from "./round";
import { settle } from "./settle";
import { signIns } from "./sign-ins";
import { starts } from "./starts";

/** A Thursday, 22:00 in Oslo. */
const NIGHT = Date.UTC(2027, 2, 11, 21) / 1000;
const HOURS = scheduleSchema.parse({ name: "s", zone: "Europe/Oslo", rows: [{ day: "workdays", spans: ["07:30-18:00"] }] });
const PLAN = aFleet({ name: "f", grace: 120 });
const FLEET: Fleet = {
  id: 1,
  name: "f",
  rank: 1,
  version: 1,
  draft: planToDraft(PLAN),
  inForce: PLAN,
  firstInForceAt: 0,
  retiredAt: null,
  basis: null,
};
const off = { state: "stopped" as const, level: asLevel(0), target: asLevel(0), runSince: null };

function machine(more: Parameters<typeof aMachine>[0] = {}): StoredResource {
  return { ...aMachine(more), due: null, fleet: "f", verdict: null, why: "" } as StoredResource;
}

function stateOf(resources: readonly StoredResource[], more: Partial<RoundState> = {}): RoundState {
  return {
    now: NIGHT,
    isRehearsal: false,
    fleet: null,
    snapshot: {
      accounts: [],
      capabilities: new Map([["a1", PROVIDER]]),
      resources,
      schedulable: resources,
      fleets: [FLEET],
      schedules: [HOURS],
      calendars: [],
      likely: new Map(),
    },
    overrides: [],
    closed: new Map(),
    open: [],
    held: new Map(),
    members: [],
    before: NIGHT - 60,
    rules: "1",
    decided: { decisions: [], wanted: new Map(), seen: new Map() },
    changed: 0,
    tried: NOTHING_TRIED,
    kept: 0,
    ...more,
  };
}

function factsOf(state: RoundState): DecisionFacts {
  return {
    refused: [],
    lastDue: new Map(),
    seen: new Map(),
    approved: new Set(),
    unforeseenOfHour: new Set(),
    stops: null,
    pauses: [],
    trips: new Map(),
    anHourAgo: state.snapshot,
  };
}

function stored(id: number, override: ReturnType<typeof newOverride>): StoredOverride {
  return { ...override, id, name: "m1", releasedAt: null };
}

function anAction(more: Partial<Action> = {}): Action {
  return {
    id: 1,
    key: "k",
    roundId: 1,
    resourceId: "m1",
    account: "a1",
    verb: "stop",
    level: asLevel(0),
    due: asLevel(0),
    sentAt: NIGHT - 60,
    status: "sent",
    attempts: 1,
    recordedAt: NIGHT - 60,
    tryAgainAt: NIGHT,
    deadline: NIGHT + 600,
    isAccepted: true,
    lastAnswer: "accepted",
    ...more,
  };
}

test("settle ends what is seen, what is gone and what is late, and leaves what was not read and what is under way", () => {
  const open = [
    anAction({ id: 1, resourceId: "m1" }),
    anAction({ id: 2, resourceId: "m2" }),
    anAction({ id: 3, resourceId: "m3", deadline: NIGHT - 1 }),
    anAction({ id: 4, resourceId: "gone" }),
    anAction({ id: 5, resourceId: "m5", account: "unread" }),
  ];
  const resources = [machine({ id: "m1", ...off }), machine({ id: "m2", state: "stopping" }), machine({ id: "m3", runSince: 0 })];
  const { ended, lastDue, state } = settle.follow(
    stateOf(resources, { open, closed: new Map([["unread", { code: "unread", error: "no answer" }]]) }),
    new Set(),
  );
  expect(ended?.map(({ action, status }) => [action.id, status])).toEqual([
    [1, "done"],
    [3, "given up"],
    [4, "given up"],
  ]);
  expect([...(lastDue ?? [])]).toEqual([["m1", 0]]);
  expect(state?.open?.map(({ id }) => id)).toEqual([2]);
});

test("starts end with their machine, but not while it has yet to come up", () => {
  const start = (id: number, from: number) =>
    stored(
      id,
      newOverride("start", { resourceId: `m${id}`, level: asLevel(1), from, to: NIGHT + 600, reason: "r", person: "p" }),
    );
  const overrides = [start(1, NIGHT - 600), start(2, NIGHT - 600), start(3, NIGHT - 10)];
  const resources = [
    machine({ id: "m1", ...off, since: NIGHT - 60 }),
    machine({ id: "m2", ...off, state: "starting", since: NIGHT - 60 }),
    machine({ id: "m3", ...off, since: NIGHT - 60 }),
  ];
  expect(starts.follow(stateOf(resources, { overrides }), null).overrides?.end[0]?.ids).toEqual([1]);
});

test("a round that would stop what somebody has just started keeps the start and decides anew, from plain data", () => {
  const resource = machine({ runSince: NIGHT - 300 });
  const state = stateOf([resource]);
  const facts = factsOf(state);
  const started = {
    rises: [{ resourceId: "m1", at: NIGHT - 300, note: "from its own console" }],
    asked: new Map(),
    kept: new Set<string>(),
    fleetOf: new Map([["m1", "f"]]),
  };
  const none = { rises: [], asked: new Map(), kept: new Set<string>(), fleetOf: new Map() };
  const decided = { decisions: [], wanted: new Map(), seen: new Map() };
  const kept = decide.follow(state, { facts, decided, started });
  expect(kept.overrides?.add).toEqual([
    expect.objectContaining({ kind: "start", resourceId: "m1", from: NIGHT - 300, to: NIGHT - 300 + 7200 }),
  ]);
  expect(kept.state?.decided?.decisions[0]).toMatchObject({ due: 1, verdict: "as due" });
  expect(decide.follow(state, { facts, decided, started: none })).toEqual({ state: { decided } });
});

test("what is decided is recorded with one new action, and what an earlier round recorded otherwise ends", () => {
  const resources = [machine()];
  const state = stateOf(resources, {
    open: [anAction({ verb: "start", level: asLevel(1), status: "recorded", lastAnswer: "" })],
  });
  const decided = {
    decisions: [
      {
        resourceId: "m1",
        fleet: "f",
        due: asLevel(0),
        actual: asLevel(1),
        verdict: "act" as const,
        reasons: [{ code: "set aside" as const, error: "hours" }],
        chain: [],
        action: { verb: "stop" as const, level: asLevel(0), note: null },
        isUnforeseen: false,
        seen: null,
      },
    ],
    wanted: new Map(),
    seen: new Map([["m1", { fleet: "f", since: 0, level: asLevel(1), foreseenSince: null }]]),
  };
  const changes = record.follow({ ...state, decided }, null);
  expect(changes.actions).toEqual([expect.objectContaining({ resourceId: "m1", account: "a1", verb: "stop", level: 0 })]);
  expect(changes.ended).toEqual([
    expect.objectContaining({
      status: "given up",
      lastAnswer: "overtaken by another decision: it is listed with what cannot be understood: hours",
    }),
  ]);
  expect([...(changes.hoursSeen ?? [])]).toEqual([["m1", null]]);
  expect(record.follow({ ...state, decided, isRehearsal: true }, null)).toEqual({ decisions: decided.decisions });
});

test("nobody who signs in at no pool has a start kept", () => {
  const facts = { signIns: [{ resourceId: "m1", at: NIGHT, type: "sign-in" as const, note: "" }], kept: new Set<string>() };
  expect(signIns.follow(stateOf([machine(off)]), facts).overrides).toEqual(NO_OVERRIDE_CHANGES);
});
