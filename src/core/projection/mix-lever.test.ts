import fc from "fast-check";
import { expect, test } from "vitest";
import type { Amount } from "../pricing";
import { afterMix } from "./mix-lever";

const WEEK_S = 7 * 86_400;
const months = [
  { from: 0, to: 31 * 86_400 },
  { from: 31 * 86_400, to: 59 * 86_400 },
] as never;
const amount = (value: number) => BigInt(value) as Amount;

test("a mix takes its weeks off the groups it is kept for, no more than they cost, and lines stay the sum", () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.nat(1e9), fc.nat(1e9), fc.boolean()), { minLength: 1, maxLength: 6 }),
      fc.integer({ min: -1e8, max: 1e9 }),
      (lines, mean) => {
        const perLine = lines.map(([a, b]) => [amount(a), amount(b)]);
        const gross = [0, 1].map((m) => perLine.reduce((sum, line) => sum + (line[m] as bigint), 0n) as Amount);
        const before = { gross, covered: gross, lines: perLine, uses: [] };
        const spread = { p5: amount(mean - 10), p50: amount(mean), p95: amount(mean + 10) };
        const { after, spread: shown } = afterMix(
          before,
          { kind: "mix", mean: amount(mean), spread, firm: 0, lines: lines.map(([, , isMixed]) => isMixed) },
          { months, spare: null },
        );
        for (const m of [0, 1]) {
          expect(after.lines.reduce((sum, line) => sum + (line[m] as bigint), 0n)).toBe(after.gross[m]);
          expect((after.covered[m] as bigint) <= (after.gross[m] as bigint)).toBe(true);
          const own = perLine.filter((_, i) => lines[i]?.[2]).reduce((sum, line) => sum + (line[m] as bigint), 0n);
          const days = m === 0 ? 31 : 28;
          const weeks = (BigInt(mean) * BigInt(days * 86_400)) / BigInt(WEEK_S);
          const saved = (gross[m] as bigint) - (after.gross[m] as bigint);
          expect(saved).toBe(own === 0n ? 0n : weeks < own ? weeks : own);
          lines.forEach(([, , isMixed], i) => {
            if (!isMixed) expect(after.lines[i]?.[m]).toBe(perLine[i]?.[m]);
          });
        }
        expect((shown.months[0]?.p5 as bigint) <= (shown.months[0]?.p95 as bigint)).toBe(true);
      },
    ),
  );
});
