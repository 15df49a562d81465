import fc from "fast-check";
import { expect, test } from "vitest";
import { FOCUS_COLUMNS, focusCells, focusHeader, headerIssues, lineReader, WRITTEN_COLUMNS, writtenCells } from ".";

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
  expect(reason({ BilledCost: "1,25" })).toBe('BilledCost "1,25" is no decimal');
  expect(reason({ BilledCost: "1e9" })).toContain("no decimal");
  expect(reason({ BilledCost: "-3" })).toContain("below zero");
  expect(reason({ BilledCost: "-3", ChargeCategory: "Credit" })).toBe("taken");
  expect(reason({ BillingCurrency: "USD" })).toContain("expected EUR");
  expect(reason({ ChargePeriodStart: "2027-02-30T00:00:00Z" })).toContain("no instant");
  expect(reason({ ChargePeriodStart: "yesterday" })).toContain("no instant");
  expect(reason({ ChargePeriodEnd: "2027-03-01T00:00:00Z" })).toContain("not after its start");
  expect(reason({ Tags: "[1]" })).toBe("Tags: expected a JSON object");
  expect(reason({ Tags: "{" })).toBe("Tags: expected a JSON object");
  expect(reason({ x_Team: "x".repeat(5000) })).toContain("longer than 4000");
  const short = read(["EUR", "1"]);
  expect(short.ok ? "" : short.reason).toBe("2 cells, and the header has 7");
});

test("instants are read as files write them: with a space, an offset, fractions of a second", () => {
  for (const from of ["2027-03-01 01:00:00Z", "2027-03-01T02:00:00+01:00", "2027-03-01T01:00:00.000Z"]) {
    const result = read(cells({ ChargePeriodStart: from }));
    expect(result.ok && result.line.from, from).toBe(Date.UTC(2027, 2, 1, 1) / 1000);
  }
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
  const header = focusHeader(["x_Team"]);
  const written = focusCells(line.line, header);
  expect(written[header.indexOf("x_Team")]).toBe("'=HYPERLINK(1)");
  expect(written[header.indexOf("BilledCost")]).toBe("-3");
  const own = writtenCells({ ResourceName: "@sum", BilledCost: "-0.5" });
  expect(own[WRITTEN_COLUMNS.indexOf("ResourceName")]).toBe("'@sum");
  expect(own[WRITTEN_COLUMNS.indexOf("BilledCost")]).toBe("-0.5");
});

test("a line that is written reads back as itself", () => {
  const text = fc.string({ maxLength: 40 }).filter((one) => !/^[=+\-@\t\r]/.test(one));
  const money = fc.tuple(fc.nat(999_999), fc.nat(999_999)).map(([a, b]) => `${a}.${String(b).padStart(6, "0")}`);
  const header = focusHeader(["x_Team", "BilledCost"]);
  expect(header).toEqual([...FOCUS_COLUMNS, "x_Team"]);
  const readBack = lineReader(header, "EUR");
  fc.assert(
    fc.property(
      fc.array(text, { minLength: 12, maxLength: 12 }),
      money,
      money,
      fc.nat(4e9),
      fc.integer({ min: 1, max: 1e6 }),
      (texts, billed, list, from, length) => {
        const given: Record<string, string> = {
          BilledCost: billed,
          ListCost: list,
          EffectiveCost: billed,
          BillingCurrency: "EUR",
          ChargeCategory: "Usage",
          ChargePeriodStart: `${new Date(from * 1000).toISOString().slice(0, 19)}Z`,
          ChargePeriodEnd: `${new Date((from + length) * 1000).toISOString().slice(0, 19)}Z`,
          ResourceId: texts[0] ?? "",
          ResourceName: texts[1] ?? "",
          SubAccountId: texts[2] ?? "",
          RegionId: texts[3] ?? "",
          x_Team: texts[4] ?? "",
          ChargeDescription: texts[5] ?? "",
          ProviderName: texts[6] ?? "",
          Tags: JSON.stringify({ a: texts[7] }),
        };
        const first = readBack(header.map((name) => given[name] ?? ""));
        if (!first.ok) throw new Error(first.reason);
        const second = readBack(focusCells(first.line, header));
        expect(second).toEqual(first);
      },
    ),
  );
});
