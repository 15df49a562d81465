import { expect, test } from "vitest";
import { aMachine } from "../../../tests/support/make";
import { asLevel, type Level } from "../hours";
import { type AmountPerSecond, formatMicros, microsOf, NO_RATE, type RateCard } from "../pricing";
import { runMeter } from ".";

const UNIT = (10n ** 9n * 730n) as AmountPerSecond;
const CARD: RateCard = {
  perLevel: UNIT,
  licencePerCore: NO_RATE,
  licenceCoresMin: 0,
  licenceCores: 1,
  billing: { granularityS: 3600, minimumS: 3600 },
  always: (UNIT / 10n) as AmountPerSecond,
  addressesOn: NO_RATE,
  addressesOff: NO_RATE,
  image: NO_RATE,
  billedWhenHalted: true,
  unpriced: [],
};
const CARDS = [{ from: Number.NEGATIVE_INFINITY, card: CARD }];
type More = Partial<Parameters<typeof runMeter>[1]> & { now?: number };
const spend = (machine: Parameters<typeof runMeter>[0], { now = 9000, ...more }: More = {}) => {
  const meter = runMeter(machine, { at: now, cards: CARDS, ...more });
  if (!meter) throw new Error("it has a price");
  return { perSecond: meter.perSecond, soFar: meter.soFarAt(now) };
};
const text = (amount: Parameters<typeof microsOf>[0]) => formatMicros(microsOf(amount));

test("so far is compute as billed, by the started hour, and disks for the time itself", () => {
  expect(text(spend(aMachine({ runSince: 1000 }), { now: 1000 + 1800 }).soFar)).toBe("1.050000");
});

test("a run that began this very second has cost nothing yet", () => {
  expect(text(spend(aMachine({ runSince: 9000 })).soFar)).toBe("0.000000");
});

test("what was shut down from inside has cost what it costs since then", () => {
  const halted = aMachine({ state: "halted", level: asLevel(0), runSince: null, since: 1800 });
  const { soFar, perSecond } = spend(halted);
  expect(text(soFar)).toBe("2.200000");
  expect(perSecond).toBe(UNIT + UNIT / 10n);
});

test("one meter is read again and again, at other instants than it was made for", () => {
  const meter = runMeter(aMachine({ runSince: 1800 }), { at: 1800, cards: CARDS });
  expect([1800, 5400, 5401].map((now) => text(meter?.soFarAt(now) ?? (0n as never)))).toEqual([
    "0.000000",
    "1.100000",
    "2.100028",
  ]);
});

test("a group's meter goes on from its last level", () => {
  const group = aMachine({ kind: "group", level: asLevel(2), levelMax: 8, runSince: 1800 });
  const span = (from: number, to: number, level: number) => ({ from, to, state: "running" as const, level: level as Level });
  const meter = runMeter(group, { at: 6000, cards: CARDS, life: [span(1800, 5400, 1), span(5400, 6000, 2)] });
  expect(text(meter?.soFarAt(9000) ?? (0n as never))).toBe("3.200000");
});

test("a run that saw two prices cost each for its time", () => {
  const dear = { from: 5400, card: { ...CARD, perLevel: (3n * UNIT) as AmountPerSecond } };
  expect(text(spend(aMachine({ runSince: 1800 }), { cards: [...CARDS, dear] }).soFar)).toBe("4.200000");
});

test("a group whose members came and went cost what ran, not what runs now", () => {
  const group = aMachine({ kind: "group", level: asLevel(4), levelMax: 8, runSince: 1800 });
  const span = (from: number, to: number, level: number) => ({ from, to, state: "running" as const, level: level as Level });
  expect(text(spend(group, { life: [span(1800, 5400, 1), span(5400, 9000, 4)] }).soFar)).toBe("5.200000");
});

test("a resource without any card has no spend rather than a free one", () => {
  expect(runMeter(aMachine(), { at: 1, cards: [] })).toBeNull();
});
