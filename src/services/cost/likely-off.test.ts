import { expect, test } from "vitest";
import { asLevel } from "@/core/hours";
import { type AmountPerSecond, NO_RATE, type RateCard } from "@/core/pricing";
import type { LifeSpan } from "@/core/spend";
import { HOUR_S, WEEK_HOURS } from "@/core/time";
import { type LikelyOff, likelySaved, likelySavedBySteps } from "./likely-off";

/** A Monday, 00:00. */
const START = Date.UTC(2027, 2, 1) / 1000;
const CARD: RateCard = {
  perLevel: 10n as AmountPerSecond,
  licencePerCore: NO_RATE,
  licenceCoresMin: 0,
  licenceCores: null,
  billing: { granularityS: 1, minimumS: 1 },
  always: NO_RATE,
  addressesOn: NO_RATE,
  addressesOff: NO_RATE,
  image: 2n as AmountPerSecond,
  billedWhenHalted: false,
  unpriced: [],
};
const cards = [{ from: Number.NEGATIVE_INFINITY, card: CARD }];
const span = (from: number, to: number, state: LifeSpan["state"]): LifeSpan => ({
  from: START + from * HOUR_S,
  to: START + to * HOUR_S,
  state,
  level: asLevel(state === "running" ? 1 : 0),
});
/** From noon on half of each hour is idle. */
const idle: LikelyOff = {
  share: Array.from({ length: WEEK_HOURS }, (_, hour) => (hour % 24 >= 12 ? 0.5 : 0)),
  isAlone: false,
  hibernates: false,
  canHibernate: true,
  ownSize: asLevel(1),
};
const life = [span(0, 13.5, "running"), span(13.5, 20, "stopped"), span(20, 24, "running")];
const window = { from: START + 12 * HOUR_S, to: START + 22 * HOUR_S };

test("what alarms save is a share of what is on, hour by hour of the week, at the price of a second off", () => {
  const saved = likelySavedBySteps({ cards, life, idle }, window, HOUR_S);
  expect([...saved].map(([at, amount]) => [(at - START) / HOUR_S, amount])).toEqual([
    [12, 18_000n],
    [13, 9_000n],
    [20, 18_000n],
    [21, 18_000n],
  ]);
  // What is hibernated goes on costing its image.
  const hibernated = likelySavedBySteps({ cards, life, idle: { ...idle, hibernates: true } }, window, HOUR_S);
  expect(hibernated.get(window.from)).toBe(18_000n - 2n * 1800n);
  expect(likelySavedBySteps({ cards, life, idle: null }, window, HOUR_S).size).toBe(0);
});

test("no more is saved than commitments leave to be paid", () => {
  const kind = { cards, life, idle };
  const cost = 126_000n;
  expect(likelySaved(kind, { window, cost, covered: 0n })).toBe(63_000n);
  expect(likelySaved(kind, { window, cost, covered: 100_000n })).toBe(26_000n);
  expect(likelySaved({ ...kind, idle: null }, { window, cost, covered: 0n })).toBe(0n);
});
