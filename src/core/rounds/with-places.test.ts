import { expect, test } from "vitest";
import { aFleet, aMachine } from "../../../tests/support/make";
import { withPlaces } from ".";

const POOL = aFleet({
  name: "desks",
  select: "kind = machine",
  pooled: { spare: 0, disconnectWait: null, signOffWait: 0, settle: 10 },
});
const placesOf = (list: readonly { name: string; poolPlace?: number }[]) =>
  Object.fromEntries(list.map(({ name, poolPlace }) => [name, poolPlace]));

test("machines of a pool have their places by name, and of what was not there nobody is counted", () => {
  const machines = ["c", "a", "b"].map((name) => aMachine({ id: name, name }));
  expect(placesOf(withPlaces(machines, [POOL]))).toEqual({ a: 0, b: 1, c: 2 });
  // Before a was born, b was the first.
  expect(placesOf(withPlaces(machines, [POOL], ({ name }) => name !== "a"))).toEqual({ a: undefined, b: 0, c: 1 });
});

test("where no plan has a pool the list is the same one", () => {
  const machines = [aMachine({ id: "a", name: "a" })];
  expect(withPlaces(machines, [aFleet({ name: "desks", select: "kind = machine" })])).toBe(machines);
});
