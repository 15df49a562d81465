import { expect, test } from "vitest";
import { asLevel, type Schedule } from "@/core/hours";
import { fleetSchema } from "@/core/plan";
import type { Round } from "@/store";
import { aMachine } from "../../tests/support/make";
import { leadBasis } from "./basis";
import { endOfMonth } from "./burn";
import { draftOfPlan, hasChanges } from "./fleets";
import { foldQuiet, isQuiet } from "./journal";
import { changedWorld } from "./moves";
import { authorise, DEMO_PERSON, NotAllowedError, ROUNDS_WORKER } from "./person";
import { progressOf } from "./settle";
import type { StoredWorld } from "./world";

const round = (id: number, more: Partial<Round> = {}): Round => ({
  id,
  mode: "act",
  askedBy: "worker",
  at: id * 60,
  status: "done",
  resources: 9,
  sent: 0,
  waiting: 0,
  braked: 0,
  changed: 0,
  unread: {},
  tookMs: 5,
  error: null,
  ...more,
});

test("quiet rounds in a row become one line; anything that happened keeps its own", () => {
  const entries = foldQuiet([
    round(9),
    round(8),
    round(7, { sent: 2 }),
    round(6),
    round(5, { mode: "rehearse" }),
    round(4),
    round(3),
    round(2),
  ]);
  expect(
    entries.map((entry) => (entry.kind === "quiet" ? `${entry.first.id}-${entry.last.id} x${entry.count}` : entry.round.id)),
  ).toEqual(["8-9 x2", 7, 6, 5, "2-4 x3"]);
});

test.each([
  [{ sent: 1 }, false],
  [{ waiting: 1 }, false],
  [{ braked: 1 }, false],
  [{ changed: 1 }, false],
  [{ status: "failed" as const }, false],
  [{ unread: { a: "no answer" } }, false],
  [{}, true],
])("a round with %o is quiet: %s", (more, expected) => {
  expect(isQuiet(round(1, more))).toBe(expected);
});

const off = { level: asLevel(0), target: asLevel(0) };
test.each([
  ["start", 1, aMachine({ state: "running" }), "done"],
  ["start", 1, aMachine({ state: "starting" }), "under way"],
  ["start", 1, aMachine({ state: "stopped", ...off }), "not seen"],
  ["stop", 0, aMachine({ state: "stopping" }), "under way"],
  ["stop", 0, aMachine({ state: "hibernated", ...off }), "done"],
  ["hibernate", 0, aMachine({ state: "running" }), "not seen"],
  ["resize", 4, aMachine({ kind: "group", level: asLevel(4) }), "done"],
  ["resize", 4, aMachine({ kind: "group", level: asLevel(2), target: asLevel(4) }), "under way"],
  ["resize", 4, aMachine({ kind: "group", level: asLevel(2), target: asLevel(2) }), "not seen"],
  ["stop", 0, undefined, "gone"],
] as const)("%s to %i, and what is read of the resource: %#", (verb, level, resource, expected) => {
  expect(progressOf({ verb, level: asLevel(level) }, resource)).toBe(expected);
});

test("the end of a month is the first instant of the next, in December too", () => {
  expect(endOfMonth(Date.UTC(2027, 2, 31, 23, 59, 59) / 1000)).toBe(Date.UTC(2027, 3, 1) / 1000);
  expect(endOfMonth(Date.UTC(2027, 11, 1) / 1000)).toBe(Date.UTC(2028, 0, 1) / 1000);
});

test("a draft made of a plan differs from it in nothing, and one edit is a difference", () => {
  const inForce = fleetSchema.parse({ name: "f", select: "team = x", hours: { fromTag: "hours" }, lead: 5 });
  const draft = draftOfPlan(inForce);
  expect(hasChanges({ draft, inForce })).toBe(false);
  expect(hasChanges({ draft: { ...draft, lead: 6 }, inForce })).toBe(true);
  expect(hasChanges({ draft: { ...draft, hours: null }, inForce })).toBe(true);
  expect(hasChanges({ draft, inForce: null })).toBe(true);
});

test("the worker may run rounds and look, and never change a plan", () => {
  expect(() => authorise(ROUNDS_WORKER, "run rounds")).not.toThrow();
  expect(() => authorise(ROUNDS_WORKER, "put in force")).toThrow(NotAllowedError);
  expect(() => authorise(ROUNDS_WORKER, "edit plans")).toThrow("worker may not edit plans.");
  expect(() => authorise(DEMO_PERSON, "move the clock")).not.toThrow();
});

test("a lead is suggested from the time that 95 of 100 starts stay under, in whole minutes", () => {
  const times = (list: number[]) => list.map((seconds) => ({ seconds, isResume: seconds < 30 }));
  expect(leadBasis([])).toBeNull();
  expect(leadBasis(times([61]))).toEqual({ count: 1, resumes: 0, p95S: 61, suggestedMinutes: 2 });
  expect(leadBasis(times(Array.from({ length: 100 }, (_, i) => i + 1)))).toEqual({
    count: 100,
    resumes: 29,
    p95S: 95,
    suggestedMinutes: 2,
  });
});

test("a changed world has the new schedules and calendars, and the others as they were", () => {
  const world = { schedules: [{ name: "a" }, { name: "b" }], calendars: [{ name: "c" }] } as unknown as StoredWorld;
  const schedule = { name: "b", zone: "UTC" } as Schedule;
  const changed = changedWorld(world, { schedules: [schedule], calendars: [] });
  expect(changed.schedules).toEqual([{ name: "a" }, schedule]);
  expect(changed.calendars).toEqual(world.calendars);
});
