import fc from "fast-check";
import { expect, test } from "vitest";
import { formatMinute, tryParseSpan } from "./span";
import { meaningsOf } from "./typed";

const texts = (typed: string) => meaningsOf(typed).map(({ text }) => text);

test.each([
  ["8-17", "08:00-17:00"],
  ["7:30-18", "07:30-18:00"],
  ["07.30-18.00", "07:30-18:00"],
  ["0730-1800", "07:30-18:00"],
  ["7h30 - 18h00", "07:30-18:00"],
  [" 7:30 – 18:00 ", "07:30-18:00"],
  ["8 to 17", "08:00-17:00"],
  ["9am-5:30pm", "09:00-17:30"],
  ["9 AM - 5 PM", "09:00-17:00"],
  ["8-5pm", "08:00-17:00"],
  ["1-5pm", "13:00-17:00"],
  ["12pm-1pm", "12:00-13:00"],
  ["12am-6am", "00:00-06:00"],
  ["0-24", "00:00-24:00"],
  ["22-6", "22:00-06:00"],
  ["22:00-06:00", "22:00-06:00"],
  ["8-17 x3", "08:00-17:00 x3"],
  ["8-17x3", "08:00-17:00 x3"],
])("%s means %s", (typed, meant) => expect(texts(typed)).toEqual([meant]));

test("what begins in a morning and ends before it is asked about", () => {
  expect(meaningsOf("9-5")).toEqual([
    { text: "09:00-17:00", words: "till 17:00" },
    { text: "09:00-05:00", words: "over midnight, till 05:00" },
  ]);
  expect(texts("07:30-06:00 x2")).toEqual(["07:30-18:00 x2", "07:30-06:00 x2"]);
});

test.each(["", "8", "8-", "-17", "8-17-19", "25-26", "8:60-9", "13pm-14", "24-25", "8-17 x99999999", "eight to five", "8-17 y"])(
  "%s means nothing",
  (typed) => expect(texts(typed)).toEqual([]),
);

test("every span in the words of the plan file means itself, or is asked about with itself among the answers", () => {
  const minute = fc.integer({ min: 0, max: 1439 });
  fc.assert(
    fc.property(minute, minute, (start, end) => {
      fc.pre(start !== end);
      const text = `${formatMinute(start)}-${formatMinute(end)}`;
      expect(tryParseSpan(text).ok).toBe(true);
      const meant = texts(text);
      expect(meant).toContain(text);
      if (end > start || start >= 720) expect(meant).toEqual([text]);
    }),
  );
});
