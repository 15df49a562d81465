import { expect, test } from "vitest";
import { instantFlag, readFlags, spanFlags, wholeFlag } from "./flags";

const SPEC = { plan: "required", zone: "optional" } as const;
const why = (work: () => unknown): string => {
  try {
    work();
  } catch (error) {
    return JSON.stringify(error, Object.getOwnPropertyNames(error));
  }
  return "";
};

test("flags are read by name, and what is optional may be missing", () => {
  expect(readFlags(["--plan", "p.yaml"], SPEC)).toEqual({ plan: "p.yaml" });
  expect(readFlags(["--zone=UTC", "--plan", "-"], SPEC)).toEqual({ plan: "-", zone: "UTC" });
});

test.each([
  [["--zone", "UTC"], "--plan is missing"],
  [["--plan", "a", "--plan", "b"], "--plan is given twice"],
  [["--plna", "a"], "did you mean --plan?"],
  [["--plan"], "--plan needs a value"],
  [["stray", "--plan", "a"], "unexpected argument"],
])("%j is wrong use: %s", (args, said) => {
  expect(why(() => readFlags(args, SPEC))).toContain(said.replaceAll('"', '\\"'));
});

test("instants, spans and whole numbers are checked where they stand", () => {
  expect(instantFlag("at", "2027-03-11T06:00:00+01:00")).toBe(Date.UTC(2027, 2, 11, 5) / 1000);
  expect(spanFlags({ from: "2027-01-01T00:00:00Z", to: "2027-01-02T00:00:00Z" })).toEqual({
    from: Date.UTC(2027, 0, 1) / 1000,
    to: Date.UTC(2027, 0, 2) / 1000,
  });
  expect(wholeFlag("days", "28", 1)).toBe(28);
  expect(why(() => instantFlag("at", "tomorrow"))).toContain("is not an instant");
  expect(why(() => spanFlags({ from: "2027-01-02T00:00:00Z", to: "2027-01-02T00:00:00Z" }))).toContain("is not after");
  expect(why(() => spanFlags({ from: "1900-01-01T00:00:00Z", to: "2027-01-02T00:00:00Z" }))).toContain("more than 100 years");
  for (const text of ["-1", "1.5", "1e3", "", "0"])
    expect(
      why(() => wholeFlag("days", text, 1)),
      text,
    ).toContain("whole number");
});
