import { expect, test } from "vitest";
import { asLevel, formatSpan, OFF, ON, offSpans, onDuring, type Span, tryParseSpan } from ".";

const read = (...texts: string[]): Span[] =>
  texts.map((text) => {
    const result = tryParseSpan(text);
    if (!result.ok) throw new Error(result.message);
    return result.span;
  });

test("on during office hours is off before and after them, and back again", () => {
  const on = read("07:30-12:00", "13:00-18:00 x4");
  const off = offSpans(on, OFF);
  expect(off.map(formatSpan)).toEqual(["00:00-07:30 x0", "12:00-13:00 x0", "18:00-24:00 x0"]);
  expect(onDuring(on, off, { level: ON, outside: OFF })).toEqual(on);
});

test("hours that stop being off get the brush's level, the others keep theirs", () => {
  const on = read("08:00-12:00 x4");
  const wider = onDuring(on, read("00:00-07:00 x0", "12:00-24:00 x0"), { level: asLevel(2), outside: OFF });
  expect(wider.map(formatSpan)).toEqual(["07:00-08:00 x2", "08:00-12:00 x4"]);
});

test("what runs past midnight stays, and outside at a level is on", () => {
  const night = read("22:00-02:00");
  expect(onDuring(night, offSpans(night, OFF), { level: ON, outside: OFF })).toEqual(night);
  expect(offSpans([], asLevel(6))).toEqual([]);
  expect(onDuring([], read("01:00-02:00 x0"), { level: ON, outside: asLevel(6) }).map(formatSpan)).toEqual(["01:00-02:00 x0"]);
});
