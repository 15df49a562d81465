import { expect, test } from "vitest";
import { asLevel } from "../hours";
import { brake, type Limits, NO_LIMITS } from "./brake";
import type { Decision } from "./decide";
import type { HeldStop } from "./held";

const action = (level: number) => ({ ...STOP.action, level: asLevel(level) });
const STOP = {
  resourceId: "m",
  verdict: "act",
  action: { kind: "stop", level: asLevel(0) },
  actual: 1,
  due: 0,
  isUnforeseen: false,
  reasons: [{ code: "no rule" }],
} as unknown as Decision & { action: NonNullable<Decision["action"]> };
const stops = (count: number, more: Partial<Decision> = {}) =>
  Array.from({ length: count }, (_, i): Decision => ({ ...STOP, resourceId: `m${i}`, ...more }));
type Braking = Readonly<{ running?: number; limits?: Partial<Limits>; approved?: string[]; held?: [string, HeldStop][] }>;
const braked = (decisions: readonly Decision[], { running = 100, limits = {}, approved = [], held = [] }: Braking = {}) =>
  brake(decisions, {
    running,
    limits: { ...NO_LIMITS, ...limits },
    approved: new Set(approved),
    held: new Map(held),
  });
const heldIn = (decisions: readonly Decision[]) =>
  decisions.flatMap(({ resourceId, verdict }) => (verdict === "braked" ? [resourceId] : []));

test("unforeseen stops are held where they are more than ten and more than a twentieth, with those of the hour before", () => {
  const isUnforeseen = true;
  expect(heldIn(braked(stops(10, { isUnforeseen })))).toEqual([]);
  expect(heldIn(braked(stops(11, { isUnforeseen })))).toHaveLength(11);
  expect(heldIn(braked(stops(11, { isUnforeseen }), { running: 220 }))).toEqual([]);
  const before = { unforeseenOfHour: new Set(["x", "y"]) };
  expect(heldIn(braked(stops(9, { isUnforeseen }), { limits: before }))).toHaveLength(9);
  expect(heldIn(braked(stops(8, { isUnforeseen }), { limits: before }))).toEqual([]);
  // Foreseen ones go on beside them, and what is held says why after what it had to say.
  const both = braked([...stops(11, { isUnforeseen }), { ...STOP, resourceId: "foreseen" }]);
  expect(heldIn(both)).not.toContain("foreseen");
  expect(both[0]?.reasons).toEqual([{ code: "no rule" }, { code: "unforeseen stops" }]);
});

test("a limit counts stops alone: no start, nothing that is off already, nothing that is only told, and none that a person let go", () => {
  const limits = { stops: 2 };
  expect(heldIn(braked(stops(2), { limits }))).toEqual([]);
  const [first] = braked(stops(3), { limits });
  expect(first?.reasons.at(-1)).toEqual({ code: "over the limit of stops", limit: 2 });
  expect(heldIn(braked(stops(3), { limits, approved: ["m1"] }))).toEqual([]);
  expect(heldIn(braked(stops(4), { limits, approved: ["m1"] }))).toEqual(["m0", "m2", "m3"]);
  const others: Decision[] = [
    { ...STOP, resourceId: "start", action: action(1) },
    { ...STOP, resourceId: "off", actual: asLevel(0) },
    { ...STOP, resourceId: "left", verdict: "left" },
    { ...STOP, resourceId: "nothing", action: null },
  ];
  expect(heldIn(braked([...stops(2), ...others], { limits }))).toEqual([]);
  expect(heldIn(braked([...stops(3), ...others], { limits }))).toEqual(["m0", "m1", "m2"]);
});

test("what was held stays so, however few are left: by a limit as long as that stands, and unforeseen ones whatever comes", () => {
  const byLimit: [string, HeldStop] = ["m0", { since: 0, reason: "limit", limit: 3 }];
  const [held, other] = braked(stops(2), { held: [byLimit], limits: { stops: 3 } });
  expect(held?.reasons.at(-1)).toEqual({ code: "over the limit of stops", limit: 3 });
  expect(other?.verdict).toBe("act");
  expect(heldIn(braked(stops(2), { held: [byLimit], limits: { stops: 4 } }))).toEqual([]);
  expect(heldIn(braked(stops(2), { held: [byLimit] }))).toEqual([]);
  const unforeseen: [string, HeldStop] = ["m0", { since: 0, reason: "unforeseen", limit: null }];
  expect(heldIn(braked(stops(2, { isUnforeseen: true }), { held: [unforeseen] }))).toEqual(["m0"]);
  expect(heldIn(braked(stops(2), { held: [unforeseen] }))).toEqual([]);
});
