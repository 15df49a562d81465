import fc from "fast-check";
import { expect, test } from "vitest";
import { cutByHabit, idleRuleSchema, replay, type Slots, slotsOf, weekEdges, weeklyWorth, withoutTrips } from ".";

const STEP = 300;
const HOUR = 3600;
const DAY = 86_400;
/** A Monday. */
const START = Date.UTC(2027, 2, 1) / 1000;
const WEEKS = 3;
const RULE = idleRuleSchema.parse({
  match: "all",
  conditions: [
    { metric: "cpu", statistic: "mean", op: "<", threshold: 5, window: 30 },
    { metric: "sessions.active", statistic: "max", op: "<=", threshold: 0, window: 30 },
  ],
});

/** A machine that is used in some hours of the day and idle in the others, as it is seen. */
function seen(used: readonly (readonly [number, number])[], isOff: (t: number) => boolean = () => false): Slots {
  const samples = Array.from({ length: (WEEKS * 7 * DAY) / STEP }, (_, i) => {
    const at = START + (i + 1) * STEP;
    const second = (at - STEP - START) % DAY;
    const isUsed = used.some(([from, to]) => second >= from * HOUR && second < to * HOUR);
    if (isOff(at)) return [];
    return [
      { at, metric: "cpu", value: isUsed ? 40 : 1 + (i % 3) },
      { at, metric: "sessions.active", value: isUsed ? 1 : 0 },
    ];
  }).flat();
  return slotsOf(samples, { stepS: STEP, metrics: ["cpu", "sessions.active"] }) as Slots;
}

test("a rule that has worked for weeks says what it said before: what it had off counts as on and idle until somebody came", () => {
  fc.assert(
    fc.property(fc.integer({ min: 5, max: 10 }), fc.integer({ min: 1, max: 5 }), (from, hours) => {
      const used = [[from, from + hours]] as const;
      const before = seen(used);
      const edges = weekEdges("UTC", { from: START, to: START + WEEKS * 7 * DAY });
      const promised = weeklyWorth([RULE], { slots: before, hours: null }, edges);
      // It works: from each trip to the next use the machine is off, and nothing is seen of it.
      const trips = replay(RULE, before, null).trips.map(({ trippedAt, backAt }) => ({
        from: trippedAt,
        to: (backAt ?? START + WEEKS * 7 * DAY) - STEP,
      }));
      const after = seen(used, (t) => trips.some((trip) => t > trip.from && t <= trip.to));
      const erased = weeklyWorth([RULE], { slots: after, hours: null }, edges);
      expect(erased.offS[1]).not.toBe(promised.offS[1]);
      const judged = withoutTrips(after, trips);
      expect(weeklyWorth([RULE], { slots: judged, hours: null }, edges).offS).toEqual(promised.offS);
      // A rule that is stricter or laxer is judged by it, too: with half the window it trips a quarter of an hour sooner, each day.
      const sooner = { ...RULE, conditions: RULE.conditions.map((one) => ({ ...one, window: 15 })) };
      const plain = weeklyWorth([sooner], { slots: before, hours: null }, edges).offS[1] as number;
      expect(weeklyWorth([sooner], { slots: judged, hours: null }, edges).offS[1]).toBe(plain);
    }),
    { numRuns: 12 },
  );
});

test("what there are samples of stays as it is, and before a trip nothing is made up", () => {
  const slots = seen([[8, 17]], (t) => t <= START + DAY);
  const trip = { from: START + 2 * HOUR, to: START + 3 * HOUR };
  expect(withoutTrips(slots, [])).toBe(slots);
  const same = withoutTrips(slots, [trip, { from: START + 2 * DAY, to: START + 2 * DAY + HOUR }]);
  for (const [metric, { values }] of slots.columns) expect(same.columns.get(metric)?.values).toEqual(values);
});

test("who is turned off by its owner in the end would not have gone on all night: as long as in the weeks before its first trip", () => {
  const evening = 17 * HOUR;
  /** On from 8:00 every day; off at 19:00, on the first Wednesday at 23:00, and on Saturdays not on at all. */
  const life = Array.from({ length: 28 }, (_, d) => d).flatMap((d) =>
    d % 7 === 5 ? [] : [{ from: START + d * DAY + 8 * HOUR, to: START + d * DAY + (d === 2 ? 23 : 19) * HOUR, state: "running" }],
  );
  const first = START + 28 * DAY + evening;
  const trip = (day: number, at = evening) => ({ from: START + day * DAY + at, to: START + (day + 1) * DAY + 8 * HOUR });
  const hours = (trips: readonly { from: number; to: number }[]) =>
    cutByHabit(trips, { life, first }).map(({ from, to }) => (to - from) / HOUR);
  // Four Wednesdays in turn: of those before, the last one first.
  expect(hours([trip(28), trip(30), trip(37), trip(44), trip(51), trip(58)])).toEqual([2, 2, 2, 2, 6, 2]);
  // It never ran on a Saturday: nobody knows, and it counts until something started it; never beyond that.
  expect(hours([trip(33), { from: START + 35 * DAY + evening, to: START + 35 * DAY + evening + HOUR }])).toEqual([15, 1]);
});
