import { expect, test } from "vitest";
import { aMachine } from "../../../tests/support/make";
import { doubtOf, isConfirmed, isSame, lackOf } from ".";

const some = (count: number, tags: Record<string, string> = { team: "x", owner: "o" }) =>
  Array.from({ length: count }, (_, i) => aMachine({ name: `m${i}`, tags }));

test("a listing that lacks up to a tenth, or up to five, is believed", () => {
  expect(doubtOf(some(100), some(90))).toBeNull();
  expect(doubtOf(some(100), some(89))).toMatchObject({ of: 100, guardsLost: 0, needsPerson: false });
  expect(doubtOf(some(5), [])).toBeNull();
  expect(doubtOf(some(6), [])).toMatchObject({ needsPerson: true });
  expect(doubtOf([], some(9))).toBeNull();
});

test("tags that vanish from many are doubted, and guards among them need a person", () => {
  expect(doubtOf(some(20), some(20, { team: "x" }))).toMatchObject({ missing: [], guardsLost: 0, needsPerson: false });
  const guarded = some(20, { team: "x", "umbrik-guard": "" });
  expect(doubtOf(guarded, some(20, { team: "x" }))).toMatchObject({ guardsLost: 20, needsPerson: true });
  expect(doubtOf(some(20), some(20, { team: "y", owner: "other" }))).toBeNull();
});

test("a second listing a round later confirms it where it says the same, and a person where one is needed", () => {
  const doubt = doubtOf(some(100), some(80)) as NonNullable<ReturnType<typeof doubtOf>>;
  const standing = { ...doubt, since: 1000, person: null };
  expect(isConfirmed(standing, doubt, { now: 1059, roundEveryS: 60 })).toBe(false);
  expect(isConfirmed(standing, doubt, { now: 1060, roundEveryS: 60 })).toBe(true);
  const other = doubtOf(some(100), some(79)) as typeof doubt;
  expect(isConfirmed(standing, other, { now: 1060, roundEveryS: 60 })).toBe(false);
  const grave = doubtOf(some(100), some(9)) as typeof doubt;
  expect(isConfirmed({ ...grave, since: 0, person: null }, grave, { now: 9999, roundEveryS: 60 })).toBe(false);
  expect(isConfirmed({ ...grave, since: 0, person: "p" }, grave, { now: 9999, roundEveryS: 60 })).toBe(true);
});

test("half of them gone needs nobody yet, one more does; what is lacking is told in numbers, and is the same only one by one", () => {
  expect(doubtOf(some(20), some(10))).toMatchObject({ needsPerson: false, untagged: [] });
  const doubt = doubtOf(some(20), some(9)) as NonNullable<ReturnType<typeof doubtOf>>;
  expect(doubt.needsPerson).toBe(true);
  expect(lackOf(doubt)).toEqual({ of: 20, missing: 11, untagged: 0, guardsLost: 0 });
  expect(isSame(doubt, { ...doubt, missing: doubt.missing.toReversed() })).toBe(true);
  expect(isSame(doubt, { ...doubt, missing: doubt.missing.slice(1) })).toBe(false);
  expect(isSame(doubt, { ...doubt, missing: [...doubt.missing.slice(1), "another"] })).toBe(false);
  // Whichever of the two listings needs a person does.
  const standing = { ...doubt, since: 0, person: null, needsPerson: false };
  expect(isConfirmed(standing, doubt, { now: 99, roundEveryS: 60 })).toBe(false);
});
