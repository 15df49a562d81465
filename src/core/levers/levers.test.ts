import fc from "fast-check";
import { expect, test } from "vitest";
import { asLevel, compileSchedule, levelAt, scheduleSchema } from "../hours";
import { type Amount, type AmountPerSecond, type Commitment, formatMicros, microsOf, NO_RATE, type RateCard } from "../pricing";
import {
  basisDays,
  type HoursFollowed,
  type Line,
  type Month,
  monthlyOf,
  monthsFrom,
  type ProjectionInput,
  ranOf,
  type SpareCover,
  stepsFrom,
} from "../projection";
import type { LifeSpan } from "../spend";
import { DAY_S, HOUR_S, tryParseInstant } from "../time";
import { type GivenLevers, layLevers } from ".";

const NOW = tryParseInstant("2027-03-11T00:00:00Z") as number;
const PAST = { from: NOW - 28 * DAY_S, to: NOW };
const DAYS = basisDays(PAST);
const MONTHS = monthsFrom(NOW, 12);
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
const span = (from: number, to: number, state: LifeSpan["state"] = "running", level = 1): LifeSpan => ({
  from,
  to,
  state,
  level: asLevel(level),
});
const always = [span(PAST.from, PAST.to)];
type Made = Partial<Omit<Line, "ran">> & { life?: readonly LifeSpan[] | null };
const line = ({ life = always, ...more }: Made = {}): Line => {
  const card = more.card ?? CARD;
  return {
    id: "m",
    kind: "machine",
    one: { kind: "machine", fields: { provider: "p1", account: "a1", region: "r", size: "s", purchase: "firm" } },
    levelMax: 1,
    ownSize: asLevel(1),
    isLeft: false,
    canHibernate: true,
    ran: life === null ? null : ranOf(life, { card, days: DAYS }),
    ...more,
    card,
  };
};
type Said = Partial<Omit<HoursFollowed, "schedule">> & { outside?: unknown; zone?: string };
const hours = (rows: unknown[], { outside = "off", zone = "UTC", ...more }: Said = {}): HoursFollowed => ({
  schedule: compileSchedule(scheduleSchema.parse({ name: "s", zone, outside, rows })),
  leadMinutes: 0,
  offAction: "stop",
  starts: "plan",
  ...more,
});
const project = (
  lines: readonly Line[],
  followed: HoursFollowed | null,
  { given, ...more }: Partial<ProjectionInput> & { given?: GivenLevers } = {},
) =>
  layLevers(
    { lines, months: MONTHS, days: DAYS, spare: null, ...more },
    given ?? { hours: followed ? { kind: "hours", followed: lines.map(() => followed) } : null },
  );
const text = (amount: Amount | undefined) => formatMicros(microsOf(amount as Amount));
const twelve = [{ day: "daily", spans: ["06:00-18:00"] }];
const after = (lines: readonly Line[], followed: HoursFollowed, month: number | "mean" = 0) => {
  const [step] = project(lines, followed).steps;
  return text(step && monthlyOf(step.after, month));
};

test("a month costs its own hours: March has 31 days of them, February 28", () => {
  const result = project([line()], hours(twelve));
  expect(result.months.map(({ name }) => name).slice(0, 3)).toEqual(["2027-03", "2027-04", "2027-05"]);
  expect(text(monthlyOf(result.alwaysOn, 0))).toBe("744.000000");
  expect(text(monthlyOf(result.alwaysOn, 11))).toBe(`${29 * 24}.000000`);
  expect(after([line()], hours(twelve))).toBe("372.000000");
  expect(after([line()], hours(twelve), "mean")).toBe("366.000000");
});

test("a clock change, a dated row and a holiday count in the month they fall in", () => {
  const night = hours([{ day: "daily", spans: ["02:00-06:00"] }], { zone: "Europe/Oslo" });
  // The night of 28 March has an hour less.
  expect(after([line()], night, 0)).toBe(`${31 * 4 - 1}.000000`);
  const dated = hours([...twelve, { day: "2027-04-05", off: true }]);
  expect(after([line()], dated, 1)).toBe(`${29 * 12}.000000`);
  expect(after([line()], dated, 2)).toBe(`${31 * 12}.000000`);
});

test("as it ran goes weekday by weekday: what ran on Sundays only counts a month's Sundays", () => {
  const sundays = DAYS.filter((day) => (day + 3) % 7 === 6).map((day) => day * DAY_S);
  const life = sundays.flatMap((at, i) => [span(at, at + DAY_S), span(at + DAY_S, sundays[i + 1] ?? PAST.to, "stopped", 0)]);
  const result = project([line({ life })], null);
  // March 2027 has four Sundays, May five.
  expect(text(result.asItRan?.gross[0])).toBe("96.000000");
  expect(text(result.asItRan?.gross[2])).toBe("120.000000");
});

test("images and machines halted but billed are in what it cost as it ran", () => {
  const card = { ...CARD, image: (UNIT / 10n) as AmountPerSecond };
  const half = PAST.from + 14 * DAY_S;
  const dozing = line({ card, life: [span(PAST.from, half), span(half, PAST.to, "hibernated", 0)] });
  const halted = line({ card, life: [span(PAST.from, half), span(half, PAST.to, "halted", 0)] });
  expect(text(project([dozing], null).asItRan?.gross[0])).toBe(`${(31 * 24 * 0.55).toFixed(6)}`);
  expect(text(project([halted], null).asItRan?.gross[0])).toBe(`${31 * 24}.000000`);
});

test("without hours, for what is left alone, and where hours say leave, a month costs what it cost", () => {
  const cold = line({ life: [span(PAST.from, PAST.to, "stopped", 0)] });
  expect(project([line()], null).steps).toEqual([]);
  expect(after([line({ isLeft: true })], hours(twelve))).toBe("744.000000");
  expect(after([line(), cold], hours([], { outside: "leave" }))).toBe("744.000000");
  expect(after([cold], hours(twelve, { outside: "leave" }))).toBe("372.000000");
});

test("where nothing ran before, there is no such baseline, and leave goes on as always on", () => {
  const fresh = project([line({ life: null })], hours(twelve, { outside: "leave" }));
  expect(fresh.asItRan).toBeNull();
  expect(text(fresh.steps[0]?.after.gross[0])).toBe("744.000000");
});

test("disks, images and leads are paid for", () => {
  const card = { ...CARD, always: (UNIT / 10n) as AmountPerSecond, image: (UNIT / 5n) as AmountPerSecond };
  const one = line({ card });
  expect(after([one], hours([]))).toBe(`${(744 * 0.1).toFixed(6)}`);
  expect(after([one], hours(twelve, { offAction: "hibernate" }))).toBe(`${(744 * 0.1 + 372 + 372 * 0.2).toFixed(6)}`);
  expect(after([line({ card, canHibernate: false })], hours(twelve, { offAction: "hibernate" }))).toBe(
    `${(744 * 0.1 + 372).toFixed(6)}`,
  );
  expect(after([line()], hours(twelve, { leadMinutes: 60 }))).toBe(`${31 * 13}.000000`);
});

test("on is each one's own size; a count is a count, never above what is allowed", () => {
  const group = (more: Made = {}) => line({ kind: "group", levelMax: 8, ownSize: asLevel(6), ...more });
  expect(after([group()], hours(twelve))).toBe(`${372 * 6}.000000`);
  expect(after([group()], hours([{ day: "daily", spans: ["06:00-18:00 x1"] }]))).toBe("372.000000");
  expect(after([group()], hours([{ day: "daily", spans: ["06:00-18:00 x30"] }]))).toBe(`${372 * 8}.000000`);
  expect(text(project([group()], null).alwaysOn.gross[0])).toBe(`${744 * 6}.000000`);
});

test("hours that only lower cost no more than what really ran", () => {
  const life = DAYS.flatMap((day) => [
    span(day * DAY_S, day * DAY_S + 9 * HOUR_S),
    span(day * DAY_S + 9 * HOUR_S, (day + 1) * DAY_S, "stopped", 0),
  ]);
  expect(after([line({ life })], hours(twelve, { starts: "hand" }))).toBe(`${31 * 3}.000000`);
  expect(after([line({ life: null })], hours([{ day: "daily", spans: ["06:00-18:00 x5"] }], { starts: "hand" }))).toBe(
    "372.000000",
  );
});

test("savings add up with what is left to either baseline exactly, each month and in the mean, before and after commitments", () => {
  const result = project(
    [line(), line({ life: [span(PAST.from, NOW - DAY_S), span(NOW - DAY_S, NOW, "stopped", 0)] })],
    hours(twelve),
  );
  for (const baseline of [result.alwaysOn, result.asItRan]) {
    for (const month of [0, 5, "mean"] as const) {
      for (const view of ["before", "after"] as const) {
        if (!baseline) throw new Error("it ran");
        const steps = stepsFrom(result, baseline, { month, view });
        const left = steps.at(-1)?.after as bigint;
        expect(steps.reduce((sum, { saves }) => sum + saves, left)).toBe(monthlyOf(baseline, month, view));
      }
    }
  }
});

const COMMITMENT: Commitment = {
  id: 1,
  provider: "p1",
  account: "",
  region: "r",
  size: "s",
  units: 2,
  feePerHour: "0",
  fromDay: "2027-01-01",
  toDay: "2028-12-31",
};
const spareOf = (left: (hour: number) => number): SpareCover => ({
  days: DAYS,
  stretches: [
    {
      from: MONTHS[0]?.from as number,
      to: MONTHS.at(-1)?.to as number,
      commitments: [COMMITMENT],
      unitSeconds: DAYS.map(() => Array.from({ length: 24 }, (_, hour) => [left(hour) * HOUR_S])),
    },
  ],
});

test("hours taken off under a cover save nothing, hour by hour: what others leave at night is lost at night only", () => {
  const two = [line({ id: "a" }), line({ id: "b" })];
  const net = (left: (hour: number) => number) => {
    const result = project(two, hours(twelve), { spare: spareOf(left) });
    const [step] = result.asItRan ? stepsFrom(result, result.asItRan, { month: 0 }) : [];
    return text(step?.saves);
  };
  expect(net(() => 0)).toBe("744.000000");
  expect(net(() => 2)).toBe("0.000000");
  expect(net(() => 1)).toBe("372.000000");
  // Left over only while the hours have them on: nothing of the saving is lost.
  expect(net((hour) => (hour >= 6 && hour < 18 ? 2 : 0))).toBe("744.000000");
  expect(net((hour) => (hour >= 6 && hour < 18 ? 0 : 2))).toBe("0.000000");
});

/** Hour by hour, one machine at a time, as a person would add it up. */
function slowly(lines: readonly Line[], followed: HoursFollowed, { month, left }: { month: Month; left: number }): number {
  let sum = 0;
  for (let at = month.from; at < month.to; at += HOUR_S) {
    const on = lines.reduce((count, { ownSize, levelMax, kind }) => {
      const level = levelAt(followed.schedule, at, ownSize).level ?? 0;
      return count + Math.min(level, kind === "machine" ? 1 : levelMax);
    }, 0);
    sum += Math.max(0, on - left);
  }
  return sum;
}

test("with any hours on whole hours, sizes and cover it is what adding up single hours gives", () => {
  const two = (n: number) => String(n).padStart(2, "0");
  const someSpan = fc.tuple(fc.integer({ min: 0, max: 22 }), fc.integer({ min: 1, max: 12 }), fc.constantFrom("", " x2"));
  fc.assert(
    fc.property(
      fc.array(someSpan, { minLength: 1, maxLength: 2 }),
      fc.constantFrom("daily", "workdays", "mon"),
      fc.constantFrom("UTC", "Europe/Oslo", "Pacific/Auckland"),
      fc.integer({ min: 1, max: 4 }),
      fc.integer({ min: 0, max: 3 }),
      (raw, day, zone, size, left) => {
        const texts = raw.map(([start, length, level]) => `${two(start)}:00-${two((start + length) % 24)}:00${level}`);
        const followed = hours([{ day, spans: texts }], { zone });
        const lines = [line(), line({ kind: "group", levelMax: 3, ownSize: asLevel(size) })];
        const result = project(lines, followed, { spare: spareOf(() => left), months: MONTHS.slice(0, 2) });
        const [step] = result.steps;
        for (const [m, month] of MONTHS.slice(0, 2).entries()) {
          const got = Number(microsOf(monthlyOf(step?.after as never, m))) / 1e6;
          // One commitment pays for both kinds, group and machine.
          expect(got).toBeCloseTo(slowly(lines, followed, { month, left: Math.min(left, 99) }), 5);
        }
      },
    ),
    { numRuns: 40, seed: 64 },
  );
});

test("what a commitment pays for and a mix makes spot saves nothing: hour by hour only firm units stay paid for", () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 8 }),
      fc.nat(8),
      fc.nat(6),
      fc.integer({ min: -50, max: 400 }),
      (level, firm, left, weekly) => {
        const group = line({ kind: "group", levelMax: 8, ownSize: asLevel(8), life: [span(PAST.from, PAST.to, "running", 8)] });
        const followed = hours([{ day: "daily", spans: [`06:00-18:00 x${level}`] }]);
        const amount = (value: number) => (BigInt(value) * UNIT * BigInt(HOUR_S)) as Amount;
        // A week of it by these hours costs eighty-four times the level.
        const of = amount(84 * level);
        const mix = { kind: "mix" as const, mean: amount(weekly), of, units: null, firm, months: [], lines: [true, false] };
        const result = project([group, line()], null, {
          given: {
            hours: { kind: "hours", followed: [followed, null] },
            mix: { ...mix, spread: { p5: amount(weekly - 9), p50: amount(weekly), p95: amount(weekly + 9) } },
          },
          spare: spareOf(() => left),
        });
        const [, step] = result.steps;
        const saved = stepsFrom(result, result.asItRan ?? result.alwaysOn, { month: 0 })[1]?.saves;
        // The machine beside it runs all day, and the group twelve hours of it.
        const paidFor = (units: number) => 31 * 12 * Math.min(left, units + 1) + 31 * 12 * Math.min(left, 1);
        const whole = Math.min((weekly * 31) / 7, 31 * 12 * level);
        // No more is paid for than there is to pay.
        const lost = paidFor(level) - Math.min(paidFor(Math.min(level, firm)), 31 * 12 * level + 31 * 24 - whole);
        expect(Number(microsOf(saved as Amount)) / 1e6).toBeCloseTo(whole - lost, 3);
        expect(Number(microsOf(step?.spread?.months[0]?.p50 as Amount)) / 1e6).toBeCloseTo((weekly * 31) / 7 - lost, 3);
      },
    ),
    { numRuns: 60 },
  );
});

test("off all the time saves the same by hours as by an idle rule, whatever commitments have left", () => {
  const week = 7 * DAY_S;
  for (const left of [() => 0, () => 1, (hour: number) => (hour >= 6 && hour < 18 ? 2 : 0)]) {
    const two = [line({ id: "a" }), line({ id: "b" })];
    const own = { offS: [week, week], savedPerSecond: UNIT as bigint, byHour: new Array<number>(168).fill(HOUR_S) };
    const byHours = project(two, hours([]), { spare: spareOf(left) });
    const byIdle = project(two, null, {
      spare: spareOf(left),
      given: { idle: { kind: "idle", lines: [own, own], seed: 1 } },
    });
    const saves = ({ asItRan, ...result }: typeof byHours) =>
      asItRan ? stepsFrom(result, asItRan, { month: 0 })[0]?.saves : undefined;
    expect(text(saves(byIdle))).toBe(text(saves(byHours)));
    expect(text(byIdle.steps[0]?.spread?.months[0]?.p50)).toBe(text(saves(byHours)));
  }
});

test("half of each hour off under a commitment for one of two saves what that does not pay", () => {
  const half = { offS: [302_400], savedPerSecond: UNIT as bigint, byHour: new Array<number>(168).fill(HOUR_S / 2) };
  const result = project([line({ id: "a" }), line({ id: "b" })], null, {
    spare: spareOf(() => 1),
    given: { idle: { kind: "idle", lines: [half, half], seed: 1 } },
  });
  // Two halves need one unit, which is paid for: of 1,488 hours 744 were paid for, and all of what is left is.
  const [saved] = result.asItRan ? stepsFrom(result, result.asItRan, { month: 0 }) : [];
  expect(text(saved?.saves)).toBe("744.000000");
  expect(text(saved?.after)).toBe("0.000000");
});

test("a commitment pays in the months in which it counts, and in no other", () => {
  const stretches = spareOf(() => 1).stretches.flatMap((all): SpareCover["stretches"] => [
    { ...all, to: MONTHS[1]?.to as number },
    { ...all, from: MONTHS[1]?.to as number, to: MONTHS[2]?.to as number, commitments: [] },
    { ...all, from: MONTHS[2]?.to as number },
  ]);
  const { alwaysOn } = project([line({ id: "a" }), line({ id: "b" })], null, { spare: { days: DAYS, stretches } });
  expect([0, 1, 2, 3].map((m) => text(alwaysOn.covered[m]))).toEqual(["744.000000", "720.000000", "0.000000", "720.000000"]);
});
