import { expect, test } from "vitest";
import { burnAddress } from "@/ui/burn/address";
import { burnQueryOf, paramsOf } from "./burn-query";

const FIRST = {
  filters: [],
  group: "none",
  sort: "perHour",
  isDescending: true,
  only: "all",
  opened: [],
  offset: 0,
  limit: 200,
  at: null,
  view: "after",
};

test("an empty address shows the dearest first, ungrouped", () => {
  expect(burnQueryOf({})).toEqual(FIRST);
});

test("what is not understood falls back instead of failing", () => {
  expect(burnQueryOf({ group: "colour", sort: "'; drop table", only: "x", offset: "-1", limit: "1e9", desc: "maybe" })).toEqual({
    ...FIRST,
    isDescending: false,
  });
  expect(burnQueryOf({ filter: ["a", " ", "b"], limit: "9999999" })).toEqual({ ...FIRST, filters: ["a", "b"], limit: 500 });
  expect(burnQueryOf({ at: "yesterday", group: "tag:payer" })).toEqual({ ...FIRST, group: "tag:payer" });
});

test("a filter longer than a thousand characters is cut", () => {
  expect(burnQueryOf({ filter: "x".repeat(5000) }).filters[0]).toHaveLength(1000);
});

test("an address made of a query reads back as the same query", () => {
  const queries = [
    {},
    { filters: ["team = draughting and region in (fjord-1, tasman-2)", "skiff"] },
    { group: "tag:payer" as const, at: Date.UTC(2027, 2, 28, 0, 30) / 1000, sort: "month" as const },
    { group: "owner" as const, opened: ["m.skarv", "no owner"], sort: "name" as const, isDescending: false },
    { only: "not due" as const, sort: "soFar" as const, isDescending: false },
    { sort: "since" as const, isDescending: true },
  ];
  for (const change of queries) {
    const query = { ...burnQueryOf({}), ...change };
    const url = new URL(burnAddress(query), "http://x");
    expect(burnQueryOf(paramsOf(url.searchParams))).toEqual(query);
  }
  expect(burnAddress(burnQueryOf({}))).toBe("/");
});
