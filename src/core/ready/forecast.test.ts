import fc from "fast-check";
import { expect, test } from "vitest";
import { compileSchedule, expandWithLead } from "../hours";
import { scheduleSchema } from "../hours/schedule";
import { hoursTarget } from "../targets";
import { forecastPool, layPool, type PoolHistory, type PoolTerms, peopleOver } from "./forecast";
import { replayPool } from "./replay";

/** Monday 1 March 2027, 00:00 UTC; three weeks in quarters of an hour. */
const START = Date.UTC(2027, 2, 1) / 1000;
const SLOT_S = 900;
const SLOTS = (3 * 7 * 86_400) / SLOT_S;
const MACHINES = 9;

const week = (spans: string[]) =>
  compileSchedule(scheduleSchema.parse({ name: "pool", zone: "UTC", rows: [{ day: "daily", spans }] }));
const HOURS = week(["08:00-12:00 x3", "12:00-17:00 x5"]);
const terms = (more: Partial<PoolTerms> = {}): PoolTerms => ({
  target: hoursTarget(HOURS, { leadMinutes: 0, all: MACHINES }),
  spare: 1,
  machines: MACHINES,
  startS: 30,
  ...more,
});
const history = (inUse: number[]): PoolHistory => ({
  firstEnd: START + SLOT_S,
  slotS: SLOT_S,
  knownFrom: START - 1,
  inUse,
});
/** People of a day, the same every day. */
const daily = (of: (hour: number) => number) => Array.from({ length: SLOTS }, (_, i) => of(((i * SLOT_S) / 3600) % 24));

test("what people bring above the hours is what the pool was on, less what the hours wanted, place by place and week by week", () => {
  const people = fc.array(fc.nat(MACHINES + 2), { minLength: 24, maxLength: 24 });
  fc.assert(
    fc.property(people, fc.nat(4), (hourly, spare) => {
      const own = terms({ spare });
      const laid = layPool(history(daily((hour) => hourly[Math.floor(hour)] as number)), own);
      const extra = peopleOver(laid);
      const { weeks } = replayPool(laid.past, spare, laid.weeks);
      const { edges } = laid.weeks;
      expect(edges.length).toBeGreaterThan(2);
      weeks.forEach((one, w) => {
        const alone = expandWithLead(HOURS, {
          from: edges[w] as number,
          to: edges[w + 1] as number,
          leadS: 0,
          ownSize: MACHINES as never,
        }).reduce((sum, { from, to, level }) => sum + ((level as number | null) ?? 0) * (to - from), 0);
        const above = extra.reduce((sum, place) => sum + (place.onS[w] as number), 0);
        // A minute of each machine at each edge is one slot's worth of rounding.
        expect(Math.abs(one.onHours * 3600 - alone - above)).toBeLessThan(MACHINES * 60 * 8 * 7);
      });
      // Machines are told apart by their place: the first ones are what the hours want, the last ones come for people.
      for (let place = 5; place + 1 < MACHINES; place++)
        for (let w = 0; w < weeks.length; w++)
          expect(extra[place]?.onS[w]).toBeGreaterThanOrEqual(extra[place + 1]?.onS[w] as number);
      // By hours of the week it is the same seconds.
      const sum = (list: readonly number[]) => list.reduce((total, own) => total + own, 0);
      for (const { onS, byHour } of extra) expect(sum(byHour) * weeks.length).toBeCloseTo(sum(onS), 3);
    }),
    { numRuns: 25 },
  );
});

test("nobody there and none spare brings nothing above the hours", () => {
  const laid = layPool(history(daily(() => 0)), terms({ spare: 0 }));
  const extra = peopleOver(laid).flatMap(({ onS }) => onS);
  expect(Math.max(...extra.map(Math.abs))).toBeLessThan(3 * 60 * 7 * 2);
});

test("spare machines by a week of their own are kept in its hours alone", () => {
  const people = daily((hour) => (hour >= 8 && hour < 17 ? 6 : 0));
  const byWeek = forecastPool(
    layPool(history(people), terms({ spare: hoursTarget(week(["08:00-10:00 x2"]), { leadMinutes: 0, all: MACHINES }) })),
    1,
  );
  const always = forecastPool(layPool(history(people), terms({ spare: 2 })), 1);
  const none = forecastPool(layPool(history(people), terms({ spare: 0 })), 1);
  expect(byWeek.own.costPerMonth).toBeGreaterThan(none.own.costPerMonth);
  expect(byWeek.own.costPerMonth).toBeLessThan(always.own.costPerMonth);
  expect(always.own.costPerMonth).toBeCloseTo(always.tried.find(({ spare }) => spare === 2)?.costPerMonth ?? 0, 6);
});
