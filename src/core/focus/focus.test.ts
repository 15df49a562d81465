import fc from "fast-check";
import { expect, test } from "vitest";
import { FOCUS_COLUMNS, focusCells, headerIssues, lineReader, REQUIRED_COLUMNS, WRITTEN_COLUMNS, writtenCells } from ".";
import { tryFocusNumber } from "./values";

const HEADER = ["BillingCurrency", "BilledCost", "ChargeCategory", "ChargePeriodStart", "ChargePeriodEnd", "Tags", "x_Team"];
const read = lineReader(HEADER, "EUR");
const cells = (more: Partial<Record<string, string>> = {}) => {
  const given: Record<string, string> = {
    BillingCurrency: "EUR",
    BilledCost: "1.25",
    ChargeCategory: "Usage",
    ChargePeriodStart: "2027-03-01T00:00:00Z",
    ChargePeriodEnd: "2027-03-02T00:00:00Z",
    Tags: "",
    x_Team: "",
    ...more,
  };
  return HEADER.map((name) => given[name] as string);
};
const reason = (more: Partial<Record<string, string>>) => {
  const result = read(cells(more));
  return result.ok ? "taken" : result.reason;
};

test("a header says which columns are missing, which is near, and which are there twice", () => {
  expect(headerIssues(HEADER)).toEqual([]);
  expect(headerIssues(["BiledCost", "BillingCurrency", "ChargePeriodStart", "ChargePeriodStart"])).toEqual([
    'the column BilledCost is missing; there is "BiledCost"',
    "the column ChargePeriodEnd is missing",
    "the column ChargePeriodStart is there twice",
  ]);
});

test("what a line cannot be is refused with the cell and what was expected", () => {
  expect(reason({})).toBe("taken");
  expect(reason({ BilledCost: "1,25" })).toBe('BilledCost "1,25" is no number; a decimal takes a point');
  expect(reason({ BilledCost: "" })).toBe("BilledCost is empty");
  expect(reason({ BilledCost: "-3" })).toContain("below zero");
  expect(reason({ BilledCost: "-3", ChargeCategory: "Credit" })).toBe("taken");
  expect(reason({ ChargePeriodEnd: "2031-03-01" })).toBe("the charge lasts 1461 days: at most 1097 are read");
  expect(reason({ BillingCurrency: "USD" })).toContain("expected EUR");
  expect(reason({ ChargePeriodEnd: "2027-03-01T00:00:00Z" })).toContain("not after its start");
  expect(reason({ Tags: "[1]" })).toBe("Tags: expected a JSON object");
  expect(reason({ Tags: "{" })).toBe("Tags: expected a JSON object");
  expect(reason({ x_Team: "x".repeat(5000) })).toContain("longer than 4000");
  const short = read(["EUR", "1"]);
  expect(short.ok ? "" : short.reason).toBe("2 cells, and the header has 7");
});

test.each([
  ["2027-03-01T01:00:00Z", 1],
  ["2027-03-01 01:00:00Z", 1],
  ["2027-03-01T02:00:00+01:00", 1],
  ["2027-03-01T02:00:00+0100", 1],
  ["2027-03-01T02:00+01", 1],
  ["2027-03-01T01:00:00.000Z", 1],
  ["2027-03-01T01:00:00.123456789Z", 1],
  ["2027-03-01T01:00:00", 1],
  ["2027-03-01 01:00:00 UTC", 1],
  ["2027-03-01t01:00z", 1],
  ["2027-03-01", 0],
])("an instant is read as files write it: %s", (text, hour) => {
  const result = read(cells({ ChargePeriodStart: text }));
  expect(result.ok && result.line.from).toBe(Date.UTC(2027, 2, 1, hour) / 1000);
});

test.each(["2027-02-30", "03/01/2027", "2027-03-01T24:00:00Z", "2027-03-01T01:00:60Z", "1772323200", "2027-W09-1", "yesterday"])(
  "what is no instant is none: %s",
  (text) => expect(reason({ ChargePeriodStart: text })).toContain("no instant such as"),
);

test("a number may have an exponent, a sign, no digit before its point: it is the same number", () => {
  const digits = fc.tuple(fc.boolean(), fc.nat(99_999), fc.stringMatching(/^\d{0,9}$/), fc.integer({ min: -12, max: 12 }));
  fc.assert(
    fc.property(digits, ([isBelow, whole, fraction, exponent]) => {
      const text = `${isBelow ? "-" : ""}${whole}${fraction === "" ? "" : `.${fraction}`}e${exponent}`;
      const plain = tryFocusNumber(text) as string;
      expect(plain).toMatch(/^-?\d+(?:\.\d+)?$/);
      expect(Number(plain)).toBeCloseTo(Number(text), 12);
      // Exactly: both shifted to whole numbers.
      const shift = 24;
      const wholeOf = (one: string) => {
        const [before = "", after = ""] = one.replace("-", "").split(".");
        return BigInt(before + after.padEnd(shift, "0"));
      };
      expect(wholeOf(plain)).toBe(BigInt(`${whole}${fraction}`) * 10n ** BigInt(shift - fraction.length + exponent));
    }),
  );
  expect(["+5", ".5", "5.", "007", "35.2E-7", "-0", "1e20"].map(tryFocusNumber)).toEqual([
    "5",
    "0.5",
    "5",
    "7",
    "0.00000352",
    "0",
    "100000000000000000000",
  ]);
  expect(["", ".", "e5", "1e99", "1e21", "0x10", "1,25", "NaN", "Infinity", "--1", "1 000"].map(tryFocusNumber)).toEqual(
    Array.from({ length: 11 }, () => null),
  );
});

test("tags of 200 characters and columns of one's own are kept as they stand", () => {
  const tags = JSON.stringify({ ["k".repeat(200)]: "v".repeat(200) });
  const result = read(cells({ Tags: tags, x_Team: 'a "quoted" one' }));
  expect(result.ok && result.line.tags).toBe(tags);
  expect(result.ok && JSON.parse(result.line.rest)).toEqual({ x_Team: 'a "quoted" one' });
});

test("a cell that a spreadsheet would run is made harmless in both files that are written; a number below zero stays one", () => {
  const line = read(cells({ BilledCost: "-3", ChargeCategory: "Credit", x_Team: "=HYPERLINK(1)" }));
  if (!line.ok) throw new Error(line.reason);
  const written = focusCells(line.line, HEADER);
  expect(written[HEADER.indexOf("x_Team")]).toBe("'=HYPERLINK(1)");
  expect(written[HEADER.indexOf("BilledCost")]).toBe("-3");
  const number = read(cells({ x_Team: "-1.5E-3" }));
  expect(number.ok && focusCells(number.line, HEADER)[HEADER.indexOf("x_Team")]).toBe("-1.5E-3");
  const own = writtenCells({ ResourceName: "@sum", BilledCost: "-0.5" });
  expect(own[WRITTEN_COLUMNS.indexOf("ResourceName")]).toBe("'@sum");
  expect(own[WRITTEN_COLUMNS.indexOf("BilledCost")]).toBe("-0.5");
});

test("columns called as what every object has are columns like others", () => {
  const header = [...HEADER, "__proto__", "constructor", "toString"];
  for (const texts of [
    ["a", "b", "c"],
    ["", "", ""],
  ]) {
    const given = [...cells({}), ...texts];
    const result = lineReader(header, "EUR")(given);
    expect(result.ok && focusCells(result.line, header)).toEqual(given);
  }
});

test("a correction of any category may be below zero", () => {
  const header = [...HEADER, "ChargeClass"];
  const classed = lineReader(header, "EUR");
  const ofClass = (one: string) => classed([...cells({ BilledCost: "-3" }), one]).ok;
  expect([ofClass("Correction"), ofClass(""), ofClass("correction")]).toEqual([true, false, false]);
});

test("a line is written as it came, whatever its columns are called, in their order, and however its values stand", () => {
  const own = fc
    .string({ maxLength: 12 })
    .map((name) => name.trim())
    .filter((name) => !(FOCUS_COLUMNS as readonly string[]).includes(name));
  const names = fc
    .tuple(
      fc.shuffledSubarray([...FOCUS_COLUMNS, "ChargeClass"]),
      fc.uniqueArray(own, { maxLength: 6 }),
      fc.infiniteStream(fc.nat()),
    )
    .map(([some, others, order]) => {
      const all = [...new Set([...REQUIRED_COLUMNS, ...some, ...others, ""])];
      return all
        .map((name) => ({ name, at: order.next().value as number }))
        .sort((a, b) => a.at - b.at)
        .map(({ name }) => name);
    });
  const text = fc.string({ maxLength: 40 }).filter((one) => !/^[=+\-@\t\r]/.test(one));
  const number = fc.constantFrom("0", "1.250", ".5", "35.2E-7", "+3", "007", "12345678901234567890.5");
  const instant = (hour: number) => {
    const clock = String(hour).padStart(2, "0");
    return fc.constantFrom(`2027-03-01T${clock}:00:00Z`, `2027-03-01 ${clock}:00:00.000Z`, `2027-03-01T${clock}:00`);
  };
  const cellOf = (name: string): fc.Arbitrary<string> => {
    if (name === "BilledCost") return number;
    if (["EffectiveCost", "ListCost", "ListUnitPrice", "ConsumedQuantity"].includes(name))
      return fc.oneof(number, fc.constant(""));
    if (name === "ChargePeriodStart") return instant(1);
    if (name === "ChargePeriodEnd") return instant(5);
    if (name === "BillingCurrency") return fc.constant("EUR");
    if (name === "Tags") return fc.dictionary(fc.string(), fc.string(), { maxKeys: 3 }).map((tags) => JSON.stringify(tags));
    return text;
  };
  const line = names.chain((header) => fc.tuple(fc.constant(header), fc.tuple(...header.map(cellOf))));
  fc.assert(
    fc.property(line, ([header, given]) => {
      const result = lineReader(header, "EUR")(given);
      if (!result.ok) throw new Error(result.reason);
      expect(focusCells(result.line, header)).toEqual(given);
    }),
    { numRuns: 300 },
  );
});
