import { expect, test } from "vitest";
import { asLevel } from "@/core/hours";
import { aMachine } from "../../../tests/support/make";
import { progressOf } from "./action-progress";

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
  expect(progressOf({ verb, level: asLevel(level), sentAt: null }, resource)).toBe(expected);
});
