import { expect, test } from "vitest";
import { atAddress, nowAddress } from "./address";

const AT = "2027-03-28T00:30:00Z";

test("an address takes the instant along, beside what it says already", () => {
  expect(atAddress("/fleets", AT)).toBe("/fleets?at=2027-03-28T00%3A30%3A00Z");
  expect(new URLSearchParams(atAddress("/?filter=a&filter=b", AT).slice(2)).getAll("filter")).toEqual(["a", "b"]);
  expect(atAddress("/fleets", null)).toBe("/fleets");
});

test("one that names its own instant keeps it, and back to now takes it away", () => {
  expect(atAddress("/machines/m?at=2027-01-01T00:00:00Z", AT)).toContain("2027-01-01");
  expect(nowAddress("/?filter=a&at=2027-01-01T00:00:00Z")).toBe("/?filter=a");
  expect(nowAddress("/rounds?at=x")).toBe("/rounds");
});
