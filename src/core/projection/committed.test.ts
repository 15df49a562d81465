import fc from "fast-check";
import { expect, test } from "vitest";
import { asLevel, compileSchedule, scheduleSchema } from "../hours";
import { type Amount, type AmountPerSecond, NO_RATE, type RateCard } from "../pricing";
import { DAY_S, MONTH_S } from "../time";
import { type HoursLever, netOfCommitments, type Projected, projectHours } from ".";

const RATE = 10n as AmountPerSecond;
const card: RateCard = {
  perLevel: RATE,
  licencePerCore: NO_RATE,
  licenceCoresMin: 0,
  licenceCores: 1,
  billing: { granularityS: 1, minimumS: 1 },
  always: NO_RATE,
  addressesOn: NO_RATE,
  addressesOff: NO_RATE,
  image: NO_RATE,
  billedWhenHalted: false,
  unpriced: [],
};
const FROM = Date.UTC(2027, 0, 4) / 1000;
const windows = { past: { from: FROM - 28 * DAY_S, to: FROM }, ahead: { from: FROM, to: FROM + 28 * DAY_S } };
const machine = (id: string, more: Partial<Projected> = {}): Projected => ({
  id,
  kind: "machine",
  levelMax: 1,
  card,
  runs: [{ ...windows.past, level: asLevel(1) }],
  isLeft: false,
  canHibernate: false,
  ...more,
});
const half: HoursLever = {
  schedule: compileSchedule(
    scheduleSchema.parse({ name: "half", zone: "UTC", rows: [{ day: "daily", spans: ["06:00-18:00"] }] }),
  ),
  leadMinutes: 0,
  offAction: "stop",
  starts: "plan",
};
const net = (machines: readonly Projected[], lever: HoursLever | null, units: number) =>
  netOfCommitments(
    projectHours(machines, lever, windows),
    machines.map((projected) => ({ projected, lever })),
    { commitments: [{ units, perLevel: RATE, ids: new Set(machines.map(({ id }) => id)) }], past: windows.past },
  );
const MONTH = BigInt(MONTH_S) * RATE;

test("hours taken off under the cover save nothing, and it is said how much", () => {
  const four = ["a", "b", "c", "d"].map((id) => machine(id));
  const whole = net(four, half, 4);
  expect(whole).toMatchObject({ asItRan: 0n, projected: 0n, savesOnAsItRan: 0n, swallowed: 2n * MONTH });
  const part = net(four, half, 1);
  expect(part.savesOnAsItRan).toBe(2n * MONTH - MONTH / 2n);
  expect(part.swallowed).toBe(MONTH / 2n);
  expect(net(four, half, 0)).toMatchObject({ savesOnAsItRan: 2n * MONTH, swallowed: 0n });
});

test("machines of other sizes, and those that are left alone, lose nothing to it", () => {
  const other = netOfCommitments(projectHours([machine("a")], half, windows), [{ projected: machine("a"), lever: half }], {
    commitments: [{ units: 5, perLevel: RATE, ids: new Set(["x"]) }],
    past: windows.past,
  });
  expect(other.swallowed).toBe(0n);
  expect(net([machine("a", { isLeft: true })], half, 1)).toMatchObject({ projected: 0n, swallowed: 0n });
});

test("whatever runs, net savings are net costs apart, and at most what they were", () => {
  const lines = fc.array(
    fc.record({
      start: fc.nat(27),
      days: fc.integer({ min: 1, max: 28 }),
      isLeft: fc.boolean(),
    }),
    { minLength: 1, maxLength: 6 },
  );
  fc.assert(
    fc.property(lines, fc.nat(6), fc.constantFrom("plan" as const, "hand" as const), (raw, units, starts) => {
      const machines = raw.map(({ start, days, isLeft }, i) => {
        const from = windows.past.from + start * DAY_S;
        return machine(`m${i}`, {
          isLeft,
          runs: [{ from, to: Math.min(windows.past.to, from + days * DAY_S), level: asLevel(1) }],
        });
      });
      const lever = { ...half, starts };
      const gross = projectHours(machines, lever, windows);
      const result = net(machines, lever, units);
      expect(result.asItRan - result.projected).toBe(result.savesOnAsItRan);
      expect(result.alwaysOn - result.projected).toBe(result.savesOnAlwaysOn);
      expect(result.asItRan).toBeLessThanOrEqual(gross.asItRan);
      if (result.swallowed > 0n) expect(result.savesOnAsItRan).toBe((gross.savesOnAsItRan - result.swallowed) as Amount);
    }),
  );
});
