import { expect, test } from "vitest";
import { lateWarnings, lateWords } from "./late";
import { idleRuleSchema } from "./rule";

const rule = idleRuleSchema.parse({
  match: "all",
  conditions: [
    { metric: "cpu", statistic: "mean", op: "<", threshold: 2, window: 30 },
    { metric: "sessions.active", statistic: "max", op: "<", threshold: 1, window: 15 },
  ],
});

test("a metric is warned of that comes later than the rule's shortest window, and one that is not waited for at all", () => {
  expect(lateWarnings(rule, () => null)).toEqual([]);
  expect(lateWarnings(rule, () => 900)).toEqual([]);
  const [cpu, ...more] = lateWarnings(rule, (metric) => (metric === "cpu" ? 960 : 60));
  expect(more).toEqual([]);
  expect(cpu && lateWords(cpu)).toBe(
    "cpu usually comes 16 min late, more than the shortest window of 15 min: whoever comes meanwhile is seen only after the rule has acted.",
  );
  const [, sessions] = lateWarnings(rule, () => 2_400);
  expect(sessions && lateWords(sessions)).toBe(
    "sessions.active usually comes 40 min late, and is waited for 30 min: the rule cannot act on it.",
  );
});
