import fc from "fast-check";
import { expect, test } from "vitest";
import { compileSchedule, levelAt } from "../hours";
import { scheduleSchema } from "../hours/schedule";
import { pooledSchema } from "../plan";
import { atPlace, placesByName } from "../rounds";
import { isInUse, sessionsOf } from "./in-use";
import { likelyInUse } from "./past";
import { type PoolPast, replayPool, suggestedSpare } from "./replay";

const START = 1_800_000_000;
const past = (people: number[], hours: number[], machines = 8): PoolPast => ({
  firstEnd: START + 300,
  stepS: 300,
  inUse: Float64Array.from(people),
  hours: Float64Array.from(hours),
  machines,
  startSlots: 1,
});
const over = (one: PoolPast) => ({
  edges: [START, START + one.inUse.length * 300],
  dayOf: (t: number) => Math.floor(t / 86_400),
});

test("who comes to a full pool waits for a start; a spare machine spares it", () => {
  const one = past([0, 1, 1, 2, 2, 0], [1, 1, 1, 1, 1, 1]);
  const [none] = replayPool(one, 0, over(one)).weeks;
  expect(none).toMatchObject({ waits: 1, waitMinutes: 5, daysWaited: 1, days: 1 });
  const [spare] = replayPool(one, 1, over(one)).weeks;
  expect(spare).toMatchObject({ waits: 0, daysWaited: 0 });
  expect(spare?.onHours).toBeGreaterThan(none?.onHours ?? 0);
  const tried = [0, 1, 2].map((n) => ({ spare: n, weeks: replayPool(one, n, over(one)).weeks }));
  expect(suggestedSpare(tried)).toBe(1);
  expect(suggestedSpare([{ spare: 0, weeks: replayPool(one, 0, over(one)).weeks }])).toBeNull();
});

test("more spare machines never make anybody wait longer, never cost less, and nobody in use is turned off", () => {
  const slots = fc.array(fc.tuple(fc.nat(8), fc.nat(8)), { minLength: 2, maxLength: 60 });
  fc.assert(
    fc.property(slots, fc.nat(3), (list, spare) => {
      const one = past(
        list.map(([people]) => people),
        list.map(([, hours]) => hours),
      );
      const few = replayPool(one, spare, over(one));
      const more = replayPool(one, spare + 1, over(one));
      expect(more.weeks[0]?.waitMinutes ?? 0).toBeLessThanOrEqual(few.weeks[0]?.waitMinutes ?? 0);
      expect(more.weeks[0]?.onHours ?? 0).toBeGreaterThanOrEqual((few.weeks[0]?.onHours ?? 0) - 1e-9);
      list.forEach(([people], i) => {
        const [on, waiting] = [few.slots.on[i] as number, few.slots.waiting[i] as number];
        expect(on + waiting).toBeGreaterThanOrEqual(people);
        expect(on).toBeLessThanOrEqual(8);
      });
    }),
  );
});

test("machines at their places are together as many as the hours say", () => {
  const schedule = scheduleSchema.parse({
    name: "pool",
    zone: "UTC",
    outside: "off",
    rows: [{ day: "daily", spans: ["06:00-09:00 x3", "09:00-17:00 x5", "17:00-18:00"] }],
  });
  const compiled = compileSchedule(schedule);
  const count = (hour: number) =>
    Array.from(
      { length: 6 },
      (_, place) => levelAt(atPlace(compiled, place), START - (START % 86_400) + hour * 3600).level ?? 0,
    ).reduce((sum: number, level) => sum + level, 0);
  expect([5, 6, 10, 17, 19].map(count)).toEqual([0, 3, 5, 6, 0]);
  expect(atPlace(compiled, 2)).toBe(atPlace(compiled, 2));
  expect([
    ...placesByName([
      { id: "x", name: "b" },
      { id: "y", name: "a" },
    ]),
  ]).toEqual([
    ["y", 0],
    ["x", 1],
  ]);
});

test("a machine counts as in use by its sessions: signed in, disconnected for a while, signed off of late, or unknown", () => {
  const sample = (metric: string, at: number, value: number) => ({ metric: `sessions.${metric}`, at, stepS: 300, value });
  const since = START;
  const of = (samples: ReturnType<typeof sample>[], now: number, more = {}) =>
    isInUse(sessionsOf(samples), { pooled: pooledSchema.parse(more), since, now });
  const day = [sample("active", START + 300, 1), sample("active", START + 600, 0), sample("disconnected", START + 600, 1)];
  expect(of(day.slice(0, 1), START + 400)).toBe(true);
  expect(of(day, START + 700)).toBe(true);
  expect(of([...day, sample("disconnected", START + 900, 1)], START + 1_000, { disconnectWait: 10 })).toBe(false);
  expect(of([...day, sample("disconnected", START + 900, 1)], START + 800, { disconnectWait: 10 })).toBe(true);
  const off = [sample("active", START + 300, 1), sample("active", START + 600, 0), sample("disconnected", START + 600, 0)];
  expect(of(off, START + 700)).toBe(false);
  expect(of(off, START + 700, { signOffWait: 15 })).toBe(true);
  // Silent for ten minutes: unknown, so in use; what was said before it ran says nothing.
  expect(of(off, START + 1_300)).toBe(true);
  expect(isInUse(sessionsOf(day), { pooled: pooledSchema.parse({}), since: START + 900, now: START + 960 })).toBe(false);
  expect(isInUse(null, { pooled: pooledSchema.parse({}), since: START, now: START + 300 })).toBe(false);
});

test("the coming week is the mean of the same slots of the weeks before, as far as they are known", () => {
  // Weeks of three slots, the oldest without its first.
  expect(likelyInUse([4, 6, 1, 2, 10, 3, 0, 2], 3)).toEqual([2, 2, 6]);
  expect(likelyInUse([], 2)).toEqual([0, 0]);
});
