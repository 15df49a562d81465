import fc from "fast-check";
import { expect, test } from "vitest";
import { editDistance, isNearMiss, nearest } from ".";

/** The textbook recursion, for short words. */
function slowDistance(a: string, b: string): number {
  if (a === "" || b === "") return a.length + b.length;
  if (a[0] === b[0]) return slowDistance(a.slice(1), b.slice(1));
  return 1 + Math.min(slowDistance(a.slice(1), b), slowDistance(a, b.slice(1)), slowDistance(a.slice(1), b.slice(1)));
}

test("edit distance agrees with the textbook", () => {
  const word = fc.string({ unit: fc.constantFrom("a", "b", "c"), maxLength: 6 });
  fc.assert(
    fc.property(word, word, (a, b) => {
      expect(editDistance(a, b)).toBe(slowDistance(a, b));
      expect(editDistance(a, b)).toBe(editDistance(b, a));
    }),
    { numRuns: 500, seed: 38 },
  );
});

test("one or two letters off, or only the case, is a likely mistake; the word itself is none", () => {
  expect(isNearMiss("tset", "test")).toBe(true);
  expect(isNearMiss("STAGE", "stage")).toBe(true);
  expect(isNearMiss("test", "test")).toBe(false);
  expect(isNearMiss("draughting", "tides")).toBe(false);
});

test("the nearest differs in case alone before it differs in letters; then the more frequent, then the alphabet", () => {
  expect(
    nearest(
      "TEAM",
      new Map([
        ["team", 1],
        ["TEAL", 50],
      ]),
    )?.name,
  ).toBe("team");
  expect(
    nearest(
      "cat",
      new Map([
        ["bat", 2],
        ["hat", 9],
      ]),
    ),
  ).toEqual({ name: "hat", count: 9 });
  expect(
    nearest(
      "cat",
      new Map([
        ["hat", 2],
        ["bat", 2],
      ]),
    )?.name,
  ).toBe("bat");
  expect(nearest("cat", new Map())).toBeNull();
});
