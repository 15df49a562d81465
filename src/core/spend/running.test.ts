import { expect, test } from "vitest";
import { aMachine } from "../../../tests/support/make";
import { asLevel } from "../hours";
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
const text = (amount: Parameters<typeof microsOf>[0]) => formatMicros(microsOf(amount));

test("so far is compute as billed, by the started hour, and disks for the time itself", () => {
  const { soFar, toCome } = runningSpend(aMachine({ runSince: 1000 }), CARD, { now: 1000 + 1800, until: 1000 + 1800 + 36_000 });
  expect(text(soFar)).toBe("1.050000");
  expect(text(toCome)).toBe("11.000000");
});

test("a run that began this very second has cost nothing yet", () => {
  expect(text(runningSpend(aMachine({ runSince: 5000 }), CARD, { now: 5000, until: 5000 }).soFar)).toBe("0.000000");
});

test("what was shut down from inside has no run, and goes on costing what it costs", () => {
  const halted = aMachine({ state: "halted", level: asLevel(0), runSince: null });
  const { soFar, perSecond } = runningSpend(halted, CARD, { now: 9000, until: 9000 });
  expect(text(soFar)).toBe("0.000000");
  expect(perSecond).toBe(UNIT + UNIT / 10n);
});

test("an end that is past adds nothing", () => {
  expect(text(runningSpend(aMachine(), CARD, { now: 9000, until: 100 }).toCome)).toBe("0.000000");
});
