import { expect, test } from "vitest";
import { burnAddress } from "@/ui/burn/address";
import { burnQueryOf } from "./burn-query";

const FIRST = { filter: "", group: "none", sort: "perHour", isDescending: true, only: "all", opened: [], offset: 0, limit: 200 };

test("an empty address shows the dearest first, ungrouped", () => {
  expect(burnQueryOf({})).toEqual(FIRST);
});

test("what is not understood falls back instead of failing", () => {
  expect(burnQueryOf({ group: "colour", sort: "'; drop table", only: "x", offset: "-1", limit: "1e9", desc: "maybe" })).toEqual({
    ...FIRST,
    isDescending: false,
  });
  expect(burnQueryOf({ filter: ["a", "b"], limit: "9999999" })).toEqual({ ...FIRST, limit: 500 });
});

test("a filter longer than a thousand characters is cut", () => {
  expect(burnQueryOf({ filter: "x".repeat(5000) }).filter).toHaveLength(1000);
});

test("an address made of a query reads back as the same query", () => {
  const queries = [
    {},
    { filter: "team = draughting and region in (fjord-1, tasman-2)" },
    { group: "owner" as const, opened: ["m.skarv", "no owner"], sort: "name" as const, isDescending: false },
    { only: "not due" as const, sort: "soFar" as const, isDescending: false },
    { sort: "since" as const, isDescending: true },
  ];
  for (const change of queries) {
    const query = { ...burnQueryOf({}), ...change };
    const url = new URL(burnAddress(query), "http://x");
    expect(burnQueryOf(Object.fromEntries(url.searchParams))).toEqual(query);
  }
  expect(burnAddress(burnQueryOf({}))).toBe("/");
});
