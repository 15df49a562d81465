import fc from "fast-check";
import { expect, test } from "vitest";
import { asCount } from "./level";
import { paintedAt, paintSpans, tidySpans } from "./paint";
import { formatSpan, type Span, tryParseSpan } from "./span";

const read = (text: string): Span => {
  const result = tryParseSpan(text);
  if (!result.ok) throw new Error(result.message);
  return result.span;
};
const painted = (spans: string[], brush: string, outside = 0) =>
  paintSpans(spans.map(read), read(brush), asCount(outside)).map(formatSpan);

test("painting joins what it touches and cuts what it clears", () => {
  expect(painted(["08:00-12:00"], "12:00-13:00")).toEqual(["08:00-13:00"]);
  expect(painted(["08:00-18:00"], "12:00-13:00 x0")).toEqual(["08:00-12:00", "13:00-18:00"]);
  expect(painted(["08:00-18:00"], "12:00-13:00 x4")).toEqual(["08:00-12:00", "12:00-13:00 x4", "13:00-18:00"]);
});

test("minutes that are not on a brick's edge stay as they were", () => {
  expect(painted(["07:45-17:10"], "18:00-18:30")).toEqual(["07:45-17:10", "18:00-18:30"]);
});

test("clearing a whole row leaves nothing where outside is off, and says off where it is not", () => {
  expect(painted(["08:00-18:00"], "00:00-24:00 x0")).toEqual([]);
  expect(painted(["08:00-18:00 x2"], "00:00-24:00 x0", 6)).toEqual(["00:00-24:00 x0"]);
});

test("a span past midnight survives painting before it", () => {
  expect(painted(["22:00-02:00"], "08:00-09:00")).toEqual(["08:00-09:00", "22:00-02:00"]);
});

test("painting the evening leaves the night after it as it was", () => {
  expect(painted(["22:00-02:00"], "23:00-24:00 x4")).toEqual(["23:59-02:00", "22:00-23:00", "23:00-24:00 x4"]);
  expect(painted(["22:00-03:00", "23:00-02:00 x2"], "08:00-09:00")).toEqual([
    "23:59-03:00",
    "08:00-09:00",
    "22:00-23:00",
    "23:00-02:00 x2",
  ]);
  expect(painted(["22:00-02:00"], "22:00-24:00 x0")).toEqual([]);
});

const span = fc
  .tuple(fc.integer({ min: 0, max: 1439 }), fc.integer({ min: 1, max: 1440 }), fc.integer({ min: 0, max: 3 }))
  .map(([start, length, level]): Span => ({ start, end: start + length, level: asCount(level) }));

test("tidying never changes the level of any minute of the day", () => {
  fc.assert(
    fc.property(fc.array(span, { maxLength: 6 }), (spans) => {
      const tidy = tidySpans(spans, asCount(0));
      // What runs on after midnight stays as long as the evening it began in is on.
      const end = (paintedAt(tidy, 1439) ?? 0) > 0 ? 2879 : 1440;
      for (let minute = 0; minute < end; minute += 7) expect(paintedAt(tidy, minute) ?? 0).toBe(paintedAt(spans, minute) ?? 0);
      for (const one of tidy) expect(tryParseSpan(formatSpan(one))).toMatchObject({ ok: true, span: one });
    }),
    { numRuns: 200, seed: 33 },
  );
});
