import fc from "fast-check";
import { expect, test } from "vitest";
import { asLevel, compileSchedule, scheduleSchema } from "../hours";
import { type AmountPerSecond, formatMicros, microsOf, NO_RATE, type RateCard } from "../pricing";
import { DAY_S, MONTH_S, tryParseInstant } from "../time";
import { type HoursLever, type Projected, projectHours } from ".";

const NOW = tryParseInstant("2027-03-11T00:00:00Z") as number;
const WINDOWS = { past: { from: NOW - 28 * DAY_S, to: NOW }, ahead: { from: NOW, to: NOW + 365 * DAY_S } };
/** One currency unit an hour, in amounts per second. */
const UNIT = (10n ** 9n * 730n) as AmountPerSecond;
const CARD: RateCard = {
  perLevel: UNIT,
  licencePerCore: NO_RATE,
  licenceCoresMin: 0,
  licenceCores: 4,
  billing: { granularityS: 1, minimumS: 60 },
  always: NO_RATE,
  addressesOn: NO_RATE,
  addressesOff: NO_RATE,
  image: NO_RATE,
  billedWhenHalted: true,
  unpriced: [],
};
const machine = (more: Partial<Projected> = {}): Projected => ({
  id: "m",
  kind: "machine",
  levelMax: 1,
  card: CARD,
  runs: [{ from: WINDOWS.past.from, to: NOW, level: asLevel(1) }],
  isLeft: false,
  canHibernate: true,
  ...more,
});
const lever = (rows: unknown[], more: Partial<HoursLever> & { outside?: unknown } = {}): HoursLever => {
  const { outside = "off", ...rest } = more;
  return {
    schedule: compileSchedule(scheduleSchema.parse({ name: "s", zone: "UTC", outside, rows })),
    leadMinutes: 0,
    offAction: "stop",
    starts: "plan",
    ...rest,
  };
};
const twelveHours = [{ day: "daily", spans: ["06:00-18:00"] }];
const text = (amount: Parameters<typeof microsOf>[0]) => formatMicros(microsOf(amount));

test("half the day costs half the month, beside always on and beside what really ran", () => {
  const half = [{ from: NOW - 14 * DAY_S, to: NOW, level: asLevel(1) }];
  const result = projectHours([machine({ runs: half })], lever(twelveHours), WINDOWS);
  expect(text(result.alwaysOn)).toBe("730.000000");
  expect(text(result.asItRan)).toBe("365.000000");
  expect(text(result.projected)).toBe("365.000000");
  expect(text(result.savesOnAsItRan)).toBe("0.000000");
});

test("without hours, and for what is left alone, a month costs what it cost", () => {
  expect(text(projectHours([machine()], null, WINDOWS).projected)).toBe("730.000000");
  expect(text(projectHours([machine({ isLeft: true })], lever(twelveHours), WINDOWS).projected)).toBe("730.000000");
});

test("disks go on costing while the machine is off", () => {
  const card = { ...CARD, always: (UNIT / 10n) as AmountPerSecond };
  expect(text(projectHours([machine({ card })], lever([]), WINDOWS).projected)).toBe("73.000000");
});

test("a hibernated machine pays for its image, a stopped one does not", () => {
  const card = { ...CARD, image: (UNIT / 10n) as AmountPerSecond };
  expect(text(projectHours([machine({ card })], lever(twelveHours, { offAction: "hibernate" }), WINDOWS).projected)).toBe(
    "401.500000",
  );
  expect(
    text(
      projectHours([machine({ card, canHibernate: false })], lever(twelveHours, { offAction: "hibernate" }), WINDOWS).projected,
    ),
  ).toBe("365.000000");
});

test("the lead is paid for", () => {
  const led = projectHours([machine()], lever(twelveHours, { leadMinutes: 60 }), WINDOWS);
  const plain = projectHours([machine()], lever(twelveHours), WINDOWS);
  // The horizon begins at midnight, so all 365 rises lie inside it.
  expect(text(led.projected)).toBe("395.416667");
  expect(led.projected > plain.projected).toBe(true);
});

test("hours that only lower cost no more than what really ran", () => {
  const mornings = Array.from({ length: 28 }, (_, i) => ({
    from: NOW - (i + 1) * DAY_S,
    to: NOW - (i + 1) * DAY_S + 9 * 3600,
    level: asLevel(1),
  })).reverse();
  const result = projectHours([machine({ runs: mornings })], lever(twelveHours, { starts: "hand" }), WINDOWS);
  expect(text(result.asItRan)).toBe("273.750000");
  expect(text(result.projected)).toBe("91.250000");
});

test("a service's level multiplies its cores and its licence, never below the minimum", () => {
  const card = {
    ...CARD,
    licencePerCore: UNIT,
    licenceCores: null,
    licenceCoresMin: 4,
    billing: { granularityS: 3600, minimumS: 3600 },
  };
  const service = machine({
    kind: "service",
    levelMax: 16,
    card,
    runs: [{ from: WINDOWS.past.from, to: NOW, level: asLevel(6) }],
  });
  expect(text(projectHours([service], lever([{ day: "daily", spans: ["00:00-24:00 x2"] }]), WINDOWS).projected)).toBe(
    `${(2 + 4) * 730}.000000`,
  );
  expect(text(projectHours([service], lever([{ day: "daily", spans: ["00:00-24:00 x2"] }]), WINDOWS).alwaysOn)).toBe(
    `${12 * 730}.000000`,
  );
});

test("a level above what the resource allows costs what is allowed", () => {
  const group = machine({ kind: "group", levelMax: 3 });
  expect(text(projectHours([group], lever([{ day: "daily", spans: ["00:00-24:00 x9"] }]), WINDOWS).projected)).toBe(
    "2190.000000",
  );
});

test("both savings add up with the projection exactly, and every part is billed as a slow sum of single hours would be", () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: 22 }),
      fc.integer({ min: 1, max: 23 }),
      fc.integer({ min: 0, max: 27 }),
      (start, length, days) => {
        const end = Math.min(24, start + length);
        const spans = [`${String(start).padStart(2, "0")}:00-${String(end).padStart(2, "0")}:00`];
        const runs = days === 0 ? [] : [{ from: NOW - days * DAY_S, to: NOW, level: asLevel(1) }];
        const result = projectHours([machine({ runs }), machine({ runs })], lever([{ day: "daily", spans }]), WINDOWS);
        expect(result.alwaysOn - result.projected).toBe(result.savesOnAlwaysOn);
        expect(result.asItRan - result.projected).toBe(result.savesOnAsItRan);
        const perMonth = (2 * (end - start) * 365 * MONTH_S) / (365 * DAY_S);
        expect(Number(microsOf(result.projected)) / 1e6).toBeCloseTo(perMonth, 5);
      },
    ),
    { numRuns: 100, seed: 37 },
  );
});
