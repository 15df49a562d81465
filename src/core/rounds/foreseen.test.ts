import { expect, test } from "vitest";
import { asLevel } from "../hours";
import { type HoursObserved, type Observing, observedAfter } from "./foreseen";

const ON = asLevel(1);
const OFF = asLevel(0);
const DAY: HoursObserved = { fleet: "f", since: 0, level: ON, foreseenSince: null };
const look = (more: Partial<Observing>): Observing => ({
  fleet: "f",
  level: OFF,
  now: 10_000,
  isOff: false,
  runSince: 0,
  fellAsKnown: () => true,
  ...more,
});

test("a fall of hours that were known an hour before is foreseen, for as long as the stop is not done", () => {
  const fell = observedAfter(DAY, look({}));
  expect(fell.foreseenSince).toBe(10_000);
  expect(observedAfter(fell, look({ now: 20_000 }))).toBe(fell);
  expect(observedAfter(fell, look({ now: 20_000, isOff: true })).foreseenSince).toBeNull();
  expect(observedAfter(fell, look({ now: 20_000, level: ON })).foreseenSince).toBeNull();
});

test("a fall that only changed hours tell of is not, and does not become so with time", () => {
  const fell = observedAfter(DAY, look({ fellAsKnown: () => false }));
  expect(fell.foreseenSince).toBeNull();
  expect(observedAfter(fell, look({ now: 90_000, fellAsKnown: () => false })).foreseenSince).toBeNull();
});

test("hours that rose and fell while nobody looked fell as well", () => {
  const night: HoursObserved = { ...DAY, level: OFF };
  expect(observedAfter(night, look({})).foreseenSince).toBe(10_000);
  expect(observedAfter(night, look({ fellAsKnown: () => false })).foreseenSince).toBeNull();
});

test("what a fleet has had for less than an hour, or has only now, is not foreseen", () => {
  expect(observedAfter({ ...DAY, since: 9_000 }, look({})).foreseenSince).toBeNull();
  expect(observedAfter({ ...DAY, fleet: "g" }, look({}))).toEqual({ fleet: "f", since: 10_000, level: OFF, foreseenSince: null });
  expect(observedAfter(undefined, look({})).foreseenSince).toBeNull();
});

test("a start by somebody after the fall ends it: the next stop is another one", () => {
  const fell = observedAfter(DAY, look({}));
  expect(observedAfter(fell, look({ now: 20_000, runSince: 15_000 })).foreseenSince).toBeNull();
});
