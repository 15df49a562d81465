import fc from "fast-check";
import { expect, test } from "vitest";
import type { Level } from "../hours";
import type { Amount } from "../pricing";
import type { Line } from "./line";
import { afterMix } from "./mix-lever";

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
      fc.integer({ min: 1, max: 1e9 }),
      (lines, mean, of) => {
        const perLine = lines.map(([a, b]) => [amount(a), amount(b)]);
        const gross = [0, 1].map((m) => perLine.reduce((sum, line) => sum + (line[m] as bigint), 0n) as Amount);
        const before = { gross, covered: gross, lines: perLine, uses: [] };
        const spread = { p5: amount(mean - 10), p50: amount(mean), p95: amount(mean + 10) };
        const { after, spread: shown } = afterMix(
          before,
          {
            kind: "mix",
            mean: amount(mean),
            spread,
            of: amount(of),
            firm: 0,
            units: null,
            months: [],
            lines: lines.map(([, , isMixed]) => isMixed),
          },
          { months, spare: null },
        );
        for (const m of [0, 1]) {
          expect(after.lines.reduce((sum, line) => sum + (line[m] as bigint), 0n)).toBe(after.gross[m]);
          expect((after.covered[m] as bigint) <= (after.gross[m] as bigint)).toBe(true);
          const own = perLine.filter((_, i) => lines[i]?.[2]).reduce((sum, line) => sum + (line[m] as bigint), 0n);
          // A month with a holiday has fewer units wanted, and as much less is saved.
          const part = (BigInt(mean) * own) / BigInt(of);
          const saved = (gross[m] as bigint) - (after.gross[m] as bigint);
          expect(saved).toBe(part < own ? part : own);
          lines.forEach(([, , isMixed], i) => {
            if (!isMixed) expect(after.lines[i]?.[m]).toBe(perLine[i]?.[m]);
          });
        }
        expect((shown.months[0]?.p5 as bigint) <= (shown.months[0]?.p95 as bigint)).toBe(true);
      },
    ),
  );
});

test("where no hours speak, the month is that of the units that the mix wants, whatever the group has now", () => {
  const card = {
    perLevel: 1_000n,
    licencePerCore: 0n,
    licenceCoresMin: 0,
    licenceCores: null,
    billing: { granularityS: 1, minimumS: 1 },
    always: 0n,
    addressesOn: 0n,
    addressesOff: 0n,
    image: 0n,
    billedWhenHalted: false,
    unpriced: [],
  };
  const line = { id: "g", kind: "group", one: { kind: "group", fields: {} }, ownSize: 6, levelMax: 20, card } as unknown as Line;
  const month = (units: number, days: number) => BigInt(units * days * 86_400) * 1_000n;
  const six = [month(6, 31), month(6, 28)] as Amount[];
  const before = { gross: six, covered: [0n, 0n] as Amount[], lines: [six], uses: [{ line, ahead: [], ran: [] }] };
  // Twelve are wanted, and a third of what they cost is taken off.
  const of = month(12, 7) as Amount;
  const third = (of / 3n) as Amount;
  const lever = {
    kind: "mix" as const,
    mean: third,
    spread: { p5: third, p50: third, p95: third },
    of,
    firm: 4,
    months: [],
    lines: [true],
  };
  const { after, spread } = afterMix(before, { ...lever, units: 12 as Level }, { months, spare: null });
  expect(after.gross).toEqual([month(8, 31), month(8, 28)]);
  expect(after.lines).toEqual([[month(8, 31), month(8, 28)]]);
  // Two units more than before at two thirds of the price: it costs more, in every percentile.
  expect(spread.months.map(({ p5, p95 }) => [p5, p95])).toEqual([31, 28].map((days) => [-month(2, days), -month(2, days)]));
  expect(afterMix(before, { ...lever, units: null }, { months, spare: null }).after.gross).toEqual([month(4, 31), month(4, 28)]);
});

test("a month that was simulated takes off what it came to, another the part that the week did; in the mean, and in its percentiles", () => {
  const gross = [amount(9_000), amount(6_000)];
  const before = { gross, covered: [amount(0), amount(0)], lines: [gross], uses: [] };
  const saving = (mean: number) => ({
    mean: amount(mean),
    spread: { p5: amount(mean - 7), p50: amount(mean), p95: amount(mean + 7) },
  });
  const lever = { kind: "mix" as const, ...saving(100), of: amount(1_000), firm: 0, units: null, lines: [true] };
  const { after, spread } = afterMix(before, { ...lever, months: [saving(700)] }, { months, spare: null });
  expect(after.gross).toEqual([amount(8_300), amount(5_400)]);
  expect(spread.months).toEqual([
    { p5: amount(693), p50: amount(700), p95: amount(707) },
    { p5: amount(558), p50: amount(600), p95: amount(642) },
  ]);
  // No more than is paid, of a month too.
  const all = afterMix(before, { ...lever, months: [saving(9_900), null] }, { months, spare: null });
  expect(all.after.gross[0]).toBe(amount(0));
});
