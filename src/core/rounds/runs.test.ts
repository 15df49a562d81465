import { expect, test } from "vitest";
import { asLevel } from "../hours";
import type { ResourceState } from "../plan";
import { type Asked, mayHaveCaused, runsOf } from ".";

const change = (at: number, state: ResourceState, { type = state as string, note = "", level = 1 } = {}) => ({
  at,
  state,
  type,
  note,
  level: asLevel(["stopped", "hibernated", "halted", "gone"].includes(state) ? 0 : level),
});
const asked = (verb: Asked["verb"], sentAt: number | null, endedAt: number | null) => ({ verb, sentAt, endedAt });

test("a run goes from its start to its stop, each with the action that was under way, or with what was told", () => {
  const start = asked("start", 95, 170);
  const stop = asked("stop", 995, 1050);
  const changes = [
    change(0, "stopped"),
    change(100, "starting"),
    change(160, "running"),
    change(1000, "stopping"),
    change(1030, "stopped"),
    change(2000, "starting", { note: "by hand" }),
    change(2060, "running"),
    change(2500, "halted", { type: "shut down from inside" }),
  ];
  expect(runsOf(changes, [start, stop])).toEqual([
    {
      from: 100,
      to: 1030,
      level: 1,
      began: { action: start, told: "starting" },
      ended: { action: stop, told: "stopping" },
      endState: "stopped",
    },
    {
      from: 2000,
      to: 2500,
      level: 1,
      began: { action: null, told: "starting, by hand" },
      ended: { action: null, told: "shut down from inside" },
      endState: "halted",
    },
  ]);
});

test("what ran when it was first told of has no beginning, and what runs on no end; the most that ran is its level", () => {
  const changes = [change(10, "running", { level: 3 }), change(50, "running", { level: 6 }), change(70, "running", { level: 2 })];
  const [run, ...others] = runsOf(changes, []);
  expect(others).toEqual([]);
  expect(run).toMatchObject({ from: null, to: null, level: 6, began: null, ended: null, endState: null });
  expect(runsOf([], [])).toEqual([]);
});

test("an action that ended before, was never sent, or asked for the other thing has caused nothing", () => {
  const rise = { at: 100, isRise: true };
  expect(mayHaveCaused(asked("start", 90, null), rise)).toBe(true);
  expect(mayHaveCaused(asked("resize", 101, 130), rise)).toBe(true);
  expect(mayHaveCaused(asked("start", 20, 90), rise)).toBe(false);
  expect(mayHaveCaused(asked("start", 150, null), rise)).toBe(false);
  expect(mayHaveCaused(asked("start", null, null), rise)).toBe(false);
  expect(mayHaveCaused(asked("stop", 90, null), rise)).toBe(false);
  expect(mayHaveCaused(asked("hibernate", 90, null), { ...rise, isRise: false })).toBe(true);
});
