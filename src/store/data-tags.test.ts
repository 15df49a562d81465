import { expect, test } from "vitest";
import { keptBeside, tagged, tagOf } from "./data-tags";

test("what is kept goes by the tag: a list made of another has none", () => {
  let made = 0;
  const make = () => ++made;
  const list = tagged(["b", "a"], "7");
  expect(tagOf(list)).toEqual({ version: "7" });
  expect([keptBeside("tag keys", list, { make }), keptBeside("tag keys", list, { make })]).toEqual([1, 1]);
  for (const other of [[...list], list.filter(() => true), list.slice()]) {
    expect(tagOf(other)).toBeNull();
    expect(keptBeside("tag keys", other, { make })).toBe(made);
  }
  expect(made).toBe(4);
});

test("what is kept is made anew where it does not hold any more, and where the data was read anew", () => {
  const of = (list: readonly string[], key: string) =>
    keptBeside("claims", list, { make: () => ({ key }), isGood: (known) => known.key === key });
  const list = tagged(["a"], "1");
  const first = of(list, "x");
  expect(of(list, "x")).toBe(first);
  expect(of(list, "y")).toEqual({ key: "y" });
  expect(of(tagged(["a"], "1"), "y")).toEqual({ key: "y" });
});
