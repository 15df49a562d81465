import { expect, test } from "vitest";
import { asCount, HOURS_OFF, ON, rowSchema } from "@/core/hours";
import type { RowDraft } from "@/core/plan";
import { barsOf, levelColour, offBarsOf, oppositeOf, paintedRow } from "./geometry";
import { choicesIn, readRowText, rowTextOf } from "./row-words";

const checked = (row: RowDraft) => rowSchema.parse(row);
const paint = (row: RowDraft, from: number, to: number, level: number, outside = 0) =>
  paintedRow(row, checked(row), { from, to, level: level === 1 ? ON : asCount(level), outside: asCount(outside) });

test("painted minutes become spans", () => {
  const row: RowDraft = { day: "mon", off: true };
  expect(paint(row, 480, 600, 1)).toEqual({ day: "mon", spans: ["08:00-10:00"] });
  expect(paint(row, 1410, 1440, 1)).toEqual({ day: "mon", spans: ["23:30-24:00"] });
});

test("clearing the last brick of a row makes it off, and keeps what else the row says", () => {
  expect(paint({ day: ["mon", "tue"], spans: ["08:00-08:15"], holidays: "too" }, 480, 495, 0)).toEqual({
    day: ["mon", "tue"],
    holidays: "too",
    off: true,
  });
});

test("an off brick where outside is on is written as level 0", () => {
  expect(paint({ day: "mon", spans: ["00:00-01:00 x2"] }, 120, 180, 0, 6)).toEqual({
    day: "mon",
    spans: ["00:00-01:00 x2", "02:00-03:00 x0"],
  });
});

test("a row that does not read keeps what was typed", () => {
  const broken: RowDraft = { day: "mon", spans: ["99:00-10:00"] };
  expect(paintedRow(broken, null, { from: 0, to: 30, level: ON, outside: HOURS_OFF })).toBe(broken);
});

test("a span past midnight is drawn as a bar to the end and a tail at the beginning", () => {
  const { spans } = checked({ day: "mon", spans: ["18:00-06:00"] });
  expect(barsOf(spans === "off" ? [] : spans)).toEqual([
    { left: 0.75, width: 0.25, level: ON, isTail: false },
    { left: 0, width: 0.25, level: ON, isTail: true },
  ]);
});

test("read the other way round the same row shows what is off", () => {
  const row: RowDraft = { day: "mon", spans: ["06:00-12:00", "18:00-06:00"] };
  expect(offBarsOf(checked(row), HOURS_OFF)).toMatchObject([
    { left: 0, width: 0.25 },
    { left: 0.5, width: 0.25 },
  ]);
  expect(rowTextOf(row, checked(row), { sense: "on", outside: HOURS_OFF })).toBe("06:00-12:00, 18:00-06:00");
  expect(rowTextOf(row, checked(row), { sense: "off", outside: HOURS_OFF })).toBe("00:00-06:00, 12:00-18:00");
  expect(rowTextOf({ day: "mon", off: true }, checked({ day: "mon", off: true }), { sense: "off", outside: HOURS_OFF })).toBe(
    "00:00-24:00",
  );
});

test("typed as what is off, the rest of the day is on", () => {
  const row: RowDraft = { day: "mon", spans: ["08:00-12:00 x4"] };
  const typed = (text: string) =>
    readRowText(row, { text, checked: checked(row), sense: "off", outside: HOURS_OFF, brush: asCount(2) });
  expect(typed("00:00-08:00, 18:00-24:00")).toEqual({ day: "mon", spans: ["08:00-12:00 x4", "12:00-18:00 x2"] });
  expect(typed("00:00-24:00")).toEqual({ day: "mon", off: true });
  expect(typed("0-8, 6pm-24")).toEqual(typed("00:00-08:00, 18:00-24:00"));
  expect(typed("00:00-")).toBeNull();
});

test("typed as what is on, a text is tidied where it means one thing, and asked about where it may mean two", () => {
  const row: RowDraft = { day: "mon", spans: ["08:00-12:00"] };
  const typed = (text: string) => readRowText(row, { text, checked: null, sense: "on", outside: HOURS_OFF, brush: ON });
  expect(typed("9-10; 13.30 – 15")).toEqual({ day: "mon", spans: ["09:00-10:00", "13:30-15:00"] });
  expect(typed("Off")).toEqual({ day: "mon", off: true });
  expect(typed("9-5")).toEqual({ day: "mon", spans: ["9-5"] });
  expect(choicesIn("7-8, 9-5", false).map(({ text }) => text)).toEqual(["7-8, 09:00-17:00", "7-8, 09:00-05:00"]);
  expect(choicesIn("09:00-05:00", true)).toHaveLength(2);
  expect(choicesIn("09:00-05:00", false), "it was chosen").toEqual([]);
  expect(choicesIn("22-6", true)).toEqual([]);
});

test("a press paints the brush, or takes it away; with off shown it is the other way round", () => {
  const four = asCount(4);
  expect(oppositeOf(HOURS_OFF, four, "on")).toBe(4);
  expect(oppositeOf(four, four, "on")).toBe(0);
  expect(oppositeOf(ON, four, "on")).toBe(4);
  expect(oppositeOf(ON, four, "off")).toBe(0);
  expect(oppositeOf(HOURS_OFF, four, "off")).toBe(4);
});

test("off is shade, on is lit, more is deeper, and leave has no colour", () => {
  expect(levelColour(HOURS_OFF, 1)).toBe("var(--shade)");
  expect(levelColour(ON, 1)).toBe("var(--lit)");
  expect(levelColour(null, 9)).toBe("transparent");
  const depth = (level: number) => Number(/(\d+)%/.exec(levelColour(asCount(level), 12))?.[1]);
  expect(depth(12)).toBeGreaterThan(depth(6));
  expect(depth(6)).toBeGreaterThan(depth(2));
});
