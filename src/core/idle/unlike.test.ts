import fc from "fast-check";
import { expect, test } from "vitest";
import { alarmReasonWords } from "./reason";
import { idleRuleSchema } from "./rule";
import { type Usual, unlikeUsual } from "./unlike";

const RULE = idleRuleSchema.parse({
  match: "all",
  conditions: [
    { metric: "cpu", statistic: "mean", op: "<", threshold: 5, window: 15 },
    { metric: "sessions.active", statistic: "max", op: "<", threshold: 1, window: 15 },
  ],
});
const USUAL = new Map<string, Usual>([
  ["cpu", { low: 1.5, high: 70, days: 14 }],
  ["sessions.active", { low: 0, high: 1, days: 14 }],
]);

test("per cent that become shares are doubted, with both figures; an idle hour, a missing sample or a metric that is often 0 are not", () => {
  const with0 = (cpu: (number | null)[]) => ({ cpu, "sessions.active": [0, 0, 0] });
  const told = (cpu: (number | null)[]) => {
    const unlike = unlikeUsual(RULE, with0(cpu), USUAL);
    return unlike && alarmReasonWords(unlike, "");
  };
  expect(told([0.02, 0.031, null])).toBe("cpu is at most 0.031, on its last days never below 1.5: has its unit changed?");
  expect(unlikeUsual(RULE, with0([1.4, 1.2, 1.6]), USUAL)).toBeNull();
  expect(unlikeUsual(RULE, with0([0.02, 0.03, 1.6]), USUAL)).toBeNull();
  expect(unlikeUsual(RULE, with0([null, null, null]), USUAL)).toBeNull();
  expect(unlikeUsual(RULE, with0([0.02]), new Map([["cpu", { low: 1.5, high: 70, days: 4 }]]))).toBeNull();
  expect(told([3_000, 2_500])).toMatch(/at least 2500, on its last days never above 70/);
});

test("whatever the values, the same a hundredth of the size is doubted and the same again is not", () => {
  fc.assert(
    fc.property(fc.array(fc.double({ min: 0.5, max: 100, noNaN: true }), { minLength: 1, maxLength: 20 }), (cpu) => {
      const [low, high] = [Math.min(...cpu), Math.max(...cpu)];
      const usual = new Map<string, Usual>([["cpu", { low, high, days: 9 }]]);
      expect(unlikeUsual(RULE, { cpu }, usual)).toBeNull();
      const shares = cpu.map((value) => value / 100).filter((value) => value < low / 20);
      if (shares.length > 0)
        expect(unlikeUsual(RULE, { cpu: shares }, usual)).toMatchObject({ metric: "cpu", side: "below", usual: low });
    }),
  );
});
