import fc from "fast-check";
import { expect, test } from "vitest";
import type { Amount } from "../pricing";
import { afterIdle } from "./idle-lever";

const DAY = 86_400;
const MONTHS = [
  { name: "2027-03", from: 0, to: 31 * DAY },
  { name: "2027-04", from: 31 * DAY, to: 61 * DAY },
];
const amount = fc.bigInt({ min: 0n, max: 10n ** 15n }).map((value) => value as Amount);
const line = fc.record({
  amounts: fc.tuple(amount, amount),
  idle: fc.option(
    fc.record({
      offS: fc.tuple(fc.nat(600_000), fc.nat(600_000), fc.nat(600_000)),
      savedPerSecond: fc.bigInt({ min: 0n, max: 10n ** 8n }),
      byHour: fc.constant(new Array<number>(168).fill(0)),
    }),
  ),
});

test("after idle alarms lines add up to the whole, nothing falls below nothing, and what is taken off is the mean of the weeks", () => {
  fc.assert(
    fc.property(fc.array(line, { minLength: 1, maxLength: 6 }), amount, (lines, paid) => {
      const sum = (m: 0 | 1) => lines.reduce((total, one) => total + one.amounts[m], 0n) as Amount;
      const before = {
        gross: [sum(0), sum(1)],
        covered: [paid, 0n as Amount],
        lines: lines.map(({ amounts }) => [...amounts]),
        uses: [],
      };
      const { after, spread } = afterIdle(
        before,
        { kind: "idle", lines: lines.map(({ idle }) => idle), seed: 1 },
        { months: MONTHS, spare: null },
      );
      lines.forEach(({ amounts, idle }, i) => {
        MONTHS.forEach(({ from, to }, m) => {
          const mean = idle ? Math.round(((idle.offS[0] + idle.offS[1] + idle.offS[2]) / 3) * ((to - from) / (7 * DAY))) : 0;
          const off = BigInt(mean) * (idle?.savedPerSecond ?? 0n);
          const own = amounts[m as 0 | 1];
          expect(after.lines[i]?.[m]).toBe(off > own ? 0n : own - off);
        });
      });
      for (const m of [0, 1] as const) {
        expect(after.gross[m]).toBe(after.lines.reduce((total, one) => total + (one[m] as bigint), 0n));
        expect((after.covered[m] as bigint) <= (after.gross[m] as bigint)).toBe(true);
      }
      for (const { p5, p50, p95 } of [...spread.months, spread.mean]) expect([p5 <= p50, p50 <= p95]).toEqual([true, true]);
    }),
  );
});
