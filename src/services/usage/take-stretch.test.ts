import fc from "fast-check";
import Papa from "papaparse";
import { expect, test } from "vitest";
import { type Delimiter, lineReader } from "@/core/focus";
import { takeStretch } from "./take-stretch";

const HEADER = ["BilledCost", "BillingCurrency", "ChargePeriodStart", "ChargePeriodEnd", "ResourceId", "x_note"];
const cell = fc.oneof(
  fc.constantFrom("plain", 'a "quoted" word', "two\nlines", "two\r\nlines", "a, b", "", "Ångström", "\\N"),
  // Longer than a bite together, shorter than a cell may be.
  fc.integer({ min: 1, max: 3900 }).map((length) => "é".repeat(length)),
);
const record = fc.tuple(fc.constantFrom("0.10", "1", "none"), cell, cell).map(([cost, id, note]) => {
  return [cost, "EUR", "2027-02-01T00:00:00Z", "2027-02-01T01:00:00Z", id, note];
});
const taking = (delimiter: Delimiter, isLast: boolean) => ({
  id: 7,
  read: lineReader(HEADER, "EUR"),
  delimiter,
  isLast,
  firstLine: 2,
  refusedBefore: 0,
});

test("however a stretch is cut, its records are taken once each, with their numbers, and what is not whole is left", async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.array(record, { minLength: 1, maxLength: 120 }),
      fc.constantFrom<Delimiter>(",", ";", "\t", "|"),
      fc.nat(400_000),
      async (records, delimiter, cut) => {
        const text = `${Papa.unparse(records, { newline: "\n", delimiter, escapeFormulae: false })}\n`;
        const whole = await takeStretch(text, taking(delimiter, true));
        const refused = records.filter(([cost]) => cost === "none").length;
        expect(whole).toMatchObject({ taken: records.length - refused, refused, used: text.length });
        expect(whole.refusals.map(({ line }) => line)).toEqual(
          records.flatMap(([cost], i) => (cost === "none" ? [i + 2] : [])).slice(0, whole.refusals.length),
        );

        const first = await takeStretch(text.slice(0, cut), taking(delimiter, false));
        const second = await takeStretch(text.slice(first.used), {
          ...taking(delimiter, true),
          firstLine: 2 + first.lines,
          refusedBefore: first.refused,
        });
        expect(first.copy + second.copy).toBe(whole.copy);
        expect(first.lines + second.lines).toBe(whole.lines);
      },
    ),
    { numRuns: 60 },
  );
});

test("a record longer than many bites is one record", async () => {
  const header = [...HEADER.slice(0, 5), ...Array.from({ length: 80 }, (_, i) => `x_${i}`)];
  const cells = [
    "1",
    "EUR",
    "2027-02-01T00:00:00Z",
    "2027-02-01T01:00:00Z",
    "m-1",
    ...Array.from({ length: 80 }, () => "n".repeat(3900)),
  ];
  const text = `${cells.join(",")}\n${cells.join(",")}\n`;
  const taken = await takeStretch(text, { ...taking(",", false), read: lineReader(header, "EUR") });
  expect(taken).toMatchObject({ taken: 2, refused: 0, used: text.length });
});
