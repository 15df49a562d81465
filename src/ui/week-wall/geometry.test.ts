import { expect, test } from "vitest";
import { asLevel, rowSchema } from "@/core/hours";
import type { RowDraft } from "@/core/plan";
import { barsOf, levelColour, paintedRow } from "./geometry";

const checked = (row: RowDraft) => rowSchema.parse(row);
const paint = (row: RowDraft, from: number, to: number, level: number, outside = 0) =>
  paintedRow(row, checked(row), { from, to, level: asLevel(level), outside: asLevel(outside) });

test("bricks painted from either end cover the same half hours", () => {
  const row: RowDraft = { day: "mon", off: true };
  expect(paint(row, 16, 19, 1)).toEqual({ day: "mon", spans: ["08:00-10:00"] });
  expect(paint(row, 19, 16, 1)).toEqual({ day: "mon", spans: ["08:00-10:00"] });
});

test("clearing the last brick of a row makes it off, and keeps what else the row says", () => {
  expect(paint({ day: ["mon", "tue"], spans: ["08:00-08:30"], holidays: "too" }, 16, 16, 0)).toEqual({
    day: ["mon", "tue"],
    holidays: "too",
    off: true,
  });
});

test("the last brick of the day ends at midnight", () => {
  expect(paint({ day: "mon", off: true }, 47, 47, 1)).toEqual({ day: "mon", spans: ["23:30-24:00"] });
});

test("an off brick where outside is on is written as level 0", () => {
  expect(paint({ day: "mon", spans: ["00:00-01:00 x2"] }, 4, 5, 0, 6)).toEqual({
    day: "mon",
    spans: ["00:00-01:00 x2", "02:00-03:00 x0"],
  });
});

test("a row that does not read keeps what was typed", () => {
  const broken: RowDraft = { day: "mon", spans: ["99:00-10:00"] };
  expect(paintedRow(broken, null, { from: 0, to: 0, level: asLevel(1), outside: asLevel(0) })).toBe(broken);
});

test("a span past midnight is drawn as a bar to the end and a tail at the beginning", () => {
  const { spans } = checked({ day: "mon", spans: ["18:00-06:00"] });
  const bars = barsOf(spans === "off" ? [] : spans);
  expect(bars).toEqual([
    { left: 0.75, width: 0.25, level: 1, isTail: false },
    { left: 0, width: 0.25, level: 1, isTail: true },
  ]);
});

test("off is shade, on is lit, more is deeper, and leave has no colour", () => {
  expect(levelColour(asLevel(0), 1)).toBe("var(--shade)");
  expect(levelColour(asLevel(1), 1)).toBe("var(--lit)");
  expect(levelColour(null, 9)).toBe("transparent");
  const depth = (level: number) => Number(/(\d+)%/.exec(levelColour(asLevel(level), 12))?.[1]);
  expect(depth(12)).toBeGreaterThan(depth(6));
  expect(depth(6)).toBeGreaterThan(depth(2));
});
