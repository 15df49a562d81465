import fc from "fast-check";
import Papa from "papaparse";
import { expect, test } from "vitest";
import { type Delimiter, delimiterOf, lineEnds } from "./csv-text";

const cell = fc.oneof(
  fc.string({ maxLength: 8 }),
  fc.constantFrom("", "two\r\nlines", "two\rlines", 'a "quoted" word', '"', '""', '\r"', "a, b; c"),
);
const rows = fc.array(fc.array(cell, { minLength: 2, maxLength: 4 }), { minLength: 1, maxLength: 12 });
const delimiter = fc.constantFrom<Delimiter>(",", ";", "\t", "|");

/** Each line with an end of its own. */
function written(table: readonly (readonly string[])[], ends: readonly string[], by: Delimiter): string {
  return table.map((row, i) => Papa.unparse([[...row]], { delimiter: by }) + (ends[i % ends.length] ?? "\n")).join("");
}

function inPieces(text: string, cuts: readonly number[], by: Delimiter): string {
  const plain = lineEnds(by);
  let out = "";
  let from = 0;
  for (const to of [...cuts.map((cut) => cut % (text.length + 1)).sort((a, b) => a - b), text.length]) {
    out += plain(text.slice(from, to), to === text.length && from <= to);
    from = to;
  }
  return out + plain("", true);
}

test("however lines end, mixed too, and however the text comes, they end alike and every cell is what it was", () => {
  fc.assert(
    fc.property(
      rows,
      fc.array(fc.constantFrom("\n", "\r\n", "\r"), { minLength: 1, maxLength: 4 }),
      fc.array(fc.nat(), { maxLength: 8 }),
      delimiter,
      (table, ends, cuts, by) => {
        const text = inPieces(written(table, ends, by), cuts, by);
        expect(text).toBe(written(table, ["\n"], by));
        const { data } = Papa.parse<string[]>(text, { delimiter: by, newline: "\n" });
        expect(data.slice(0, -1)).toEqual(table);
      },
    ),
    { numRuns: 300 },
  );
});

test("a quote in the middle of a cell opens nothing", () => {
  expect(lineEnds(",")('a,5" disk\r\nb,c\r\n', true)).toBe('a,5" disk\nb,c\n');
  expect(lineEnds(",")('"a\r\nb"\r\n', true)).toBe('"a\r\nb"\n');
  expect(lineEnds(",")('"a""\r\n"\r', true)).toBe('"a""\r\n"\n');
});

test("the delimiter is what stands between the names of the header", () => {
  expect(delimiterOf("BilledCost,BillingCurrency")).toBe(",");
  expect(delimiterOf("BilledCost;BillingCurrency;Tags")).toBe(";");
  expect(delimiterOf("BilledCost\tBillingCurrency")).toBe("\t");
  expect(delimiterOf('"a;b;c;d",x')).toBe(",");
  expect(delimiterOf("BilledCost")).toBe(",");
});
