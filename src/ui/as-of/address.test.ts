import { expect, test } from "vitest";
import { atAddress, nowAddress } from "./address";

const AT = "2027-03-28T00:30:00Z";

test("an address takes the instant along, beside what it says already", () => {
  expect(atAddress("/fleets", { at: AT, money: null })).toBe("/fleets?at=2027-03-28T00%3A30%3A00Z");
  expect(new URLSearchParams(atAddress("/?filter=a&filter=b", { at: AT, money: null }).slice(2)).getAll("filter")).toEqual([
    "a",
    "b",
  ]);
  expect(atAddress("/fleets", { at: null, money: null })).toBe("/fleets");
});

test("which money is told goes along, too", () => {
  expect(atAddress("/fleets", { at: null, money: "before" })).toBe("/fleets?money=before");
  expect(atAddress("/?money=after", { at: AT, money: "before" })).toContain("money=after");
});

test("one that names its own instant keeps it, and back to now takes it away", () => {
  expect(atAddress("/machines/m?at=2027-01-01T00:00:00Z", { at: AT, money: null })).toContain("2027-01-01");
  expect(nowAddress("/?filter=a&at=2027-01-01T00:00:00Z")).toBe("/?filter=a");
  expect(nowAddress("/rounds?at=x")).toBe("/rounds");
});
