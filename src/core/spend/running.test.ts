import { expect, test } from "vitest";
import { aMachine } from "../../../tests/support/make";
import { asLevel, type Level } from "../hours";
import { type AmountPerSecond, formatMicros, microsOf, NO_RATE, type RateCard } from "../pricing";
import { runningSpend } from ".";

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
const spend = (machine: Parameters<typeof runningSpend>[0], more: Partial<Parameters<typeof runningSpend>[1]>) => {
  const result = runningSpend(machine, { now: 9000, until: 9000, cards: CARDS, ...more });
  if (!result) throw new Error("it has a price");
  return result;
};
const text = (amount: Parameters<typeof microsOf>[0]) => formatMicros(microsOf(amount));

test("so far is compute as billed, by the started hour, and disks for the time itself", () => {
  const { soFar, toCome } = spend(aMachine({ runSince: 1000 }), { now: 1000 + 1800, until: 1000 + 1800 + 36_000 });
  expect(text(soFar)).toBe("1.050000");
  expect(text(toCome)).toBe("11.000000");
});

test("a run that began this very second has cost nothing yet", () => {
  expect(text(spend(aMachine({ runSince: 9000 }), {}).soFar)).toBe("0.000000");
});

test("what was shut down from inside has cost what it costs since then", () => {
  const halted = aMachine({ state: "halted", level: asLevel(0), runSince: null, since: 1800 });
  const { soFar, perSecond } = spend(halted, {});
  expect(text(soFar)).toBe("2.200000");
  expect(perSecond).toBe(UNIT + UNIT / 10n);
});

test("an end that is past adds nothing", () => {
  expect(text(spend(aMachine(), { until: 100 }).toCome)).toBe("0.000000");
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
  expect(runningSpend(aMachine(), { now: 1, until: 2, cards: [] })).toBeNull();
});
