import { expect, test } from "vitest";
import { asLevel } from "../hours";
import type { Resource } from "../plan";
import { mixAhead } from "./mix-ahead";

const one = (id: string, cores: number, purchase: string) => ({ id, cores, fields: { purchase } }) as unknown as Resource;
const spans = (levels: number[]) =>
  levels.map((level, i) => ({ from: i * 10, to: i * 10 + 10, state: "running" as const, level: asLevel(level) }));

test("members are on by their place, firm ones first, and the group has of itself what they do not come to", () => {
  const group = one("g", 4, "firm");
  const members = [one("s1", 4, "spot"), one("s2", 8, "spot"), one("f1", 4, "firm"), one("f2", 4, "firm")];
  const levels = [0, 1, 3, 5, 7, 2];
  const ahead = mixAhead(group, members, { whole: spans(levels), unitsOf: ({ cores }) => cores / 4 });
  const units = { f1: 1, f2: 1, s1: 1, s2: 2 } as Record<string, number>;
  levels.forEach((level, i) => {
    const at = (id: string) => ahead.get(id)?.find(({ from, to }) => from <= i * 10 + 5 && i * 10 + 5 < to)?.level ?? 0;
    const given = Object.keys(units).reduce((sum, id) => sum + at(id) * (units[id] as number), 0);
    // A machine of two units is on for one of them.
    expect(given + at("g")).toBeGreaterThanOrEqual(level);
    expect(given + at("g")).toBeLessThanOrEqual(level + 1);
    if (level >= 1) expect(at("f1")).toBe(1);
  });
  expect(ahead.get("g")?.map(({ level }) => level)).toEqual([0, 2, 0]);
});
