import fc from "fast-check";
import { expect, test } from "vitest";
import { asCount, formatSpan, HOURS_OFF, ON, offSpans, onDuring, paintedAt, type Span, tryParseSpan } from ".";

const read = (...texts: string[]): Span[] =>
  texts.map((text) => {
    const result = tryParseSpan(text);
    if (!result.ok) throw new Error(result.message);
    return result.span;
  });

test("on during office hours is off before and after them, and back again", () => {
  const on = read("07:30-12:00", "13:00-18:00 x4");
  const off = offSpans(on, HOURS_OFF);
  expect(off.map(formatSpan)).toEqual(["00:00-07:30 x0", "12:00-13:00 x0", "18:00-24:00 x0"]);
  expect(onDuring(on, off, { level: ON, outside: HOURS_OFF })).toEqual(on);
});

test("hours that stop being off get the brush's level, the others keep theirs", () => {
  const on = read("08:00-12:00 x4");
  const wider = onDuring(on, read("00:00-07:00 x0", "12:00-24:00 x0"), { level: asCount(2), outside: HOURS_OFF });
  expect(wider.map(formatSpan)).toEqual(["07:00-08:00 x2", "08:00-12:00 x4"]);
});

test("what runs past midnight stays, and outside at a level is on", () => {
  const night = read("22:00-02:00");
  expect(onDuring(night, offSpans(night, HOURS_OFF), { level: ON, outside: HOURS_OFF })).toEqual(night);
  expect(offSpans([], asCount(6))).toEqual([]);
  expect(onDuring([], read("01:00-02:00 x0"), { level: ON, outside: asCount(6) }).map(formatSpan)).toEqual(["01:00-02:00 x0"]);
});

const span = fc
  .tuple(fc.integer({ min: 0, max: 1439 }), fc.integer({ min: 1, max: 1440 }), fc.integer({ min: 0, max: 3 }))
  .map(([start, length, level]): Span => ({ start, end: start + length, level: asCount(level) }));

test("switching the sense twice changes the level of no minute of the day", () => {
  fc.assert(
    fc.property(fc.array(span, { maxLength: 4 }), fc.constantFrom(0, 2), (spans, outside) => {
      const off = offSpans(spans, asCount(outside));
      const back = onDuring(spans, off, { level: ON, outside: asCount(outside) });
      for (let minute = 0; minute < 1440; minute += 7) {
        const before = paintedAt(spans, minute) ?? outside;
        expect(off.some(({ start, end }) => minute >= start && minute < end)).toBe(before === 0);
        expect(paintedAt(back, minute) ?? outside).toBe(before);
      }
    }),
    { numRuns: 100, seed: 74 },
  );
});
