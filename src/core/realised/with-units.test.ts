import { expect, test } from "vitest";
import { asLevel } from "../hours";
import type { ResourceState } from "../plan";
import type { LifeSpan } from "../spend";
import { withUnits } from "./with-units";

const span = (from: number, to: number, state: ResourceState, level: number): LifeSpan =>
  ({ from, to, state, level: asLevel(level), runSince: null }) as unknown as LifeSpan;

test("a group with its members is at each instant its own level and the units of those that run", () => {
  const own = [span(0, 50, "running", 4), span(50, 200, "stopped", 0)];
  const members = [
    { units: 1, life: [span(20, 30, "starting", 1), span(30, 120, "running", 1), span(120, 200, "gone", 0)] },
    { units: 2, life: [span(40, 200, "running", 1)] },
  ];
  const combined = withUnits(own, members, { from: 0, to: 200 });
  expect(combined.map(({ from, to, state, level }) => [from, to, state, level])).toEqual([
    [0, 20, "running", 4],
    [20, 40, "running", 5],
    [40, 50, "running", 7],
    [50, 120, "running", 3],
    [120, 200, "running", 2],
  ]);
  // Held to adding up second by second.
  for (let t = 0; t < 200; t++) {
    const at = (life: readonly LifeSpan[]) => life.find((one) => one.from <= t && t < one.to);
    const runs = (life: readonly LifeSpan[]) => (["running", "starting"].includes(at(life)?.state ?? "") ? 1 : 0);
    const level = (runs(own) ? (at(own)?.level ?? 0) : 0) + members.reduce((sum, { life, units }) => sum + units * runs(life), 0);
    expect(at(combined)?.level).toBe(level);
  }
});
