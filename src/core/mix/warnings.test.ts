import { expect, test } from "vitest";
import { compileSchedule, scheduleSchema } from "../hours";
import { hoursTarget } from "../targets";
import { mixSchema } from "./mix";
import { overTarget } from "./steps";
import { mixWarnings } from "./warnings";

const POOL = { name: "a", price: 0.3 };
const mixOf = (given: Record<string, unknown>) =>
  mixSchema.parse({
    wanted: 10,
    firm: 6,
    firmPrice: 1,
    eviction: "drop",
    order: "even",
    refillEveryMinutes: 5,
    pools: [POOL, { name: "b", price: 0.3 }],
    ...given,
  });
const codes = (given: Record<string, unknown>) => mixWarnings(mixOf(given)).map(({ code }) => code);

test("more in one pool than was ever seen there at once is said, of pools in which anything was seen", () => {
  const seen = (a: number, b: number) =>
    mixWarnings(
      mixOf({}),
      new Map([
        ["a", { price: 0.1, mostAtOnce: a }],
        ["b", { price: 0.1, mostAtOnce: b }],
      ]),
    );
  expect(seen(2, 2)).toEqual([]);
  expect(seen(1, 2)).toEqual([{ code: "over what was seen", pool: "a", machines: 2, seen: 1 }]);
  expect(seen(0, 0)).toEqual([]);
});

test("without a way back what stands in at full price stays, and what that comes to is said", () => {
  const never = { fallbackAfterMinutes: 30, returnAfterMinutes: null };
  expect(codes({ ...never, returnAfterMinutes: 60 })).toEqual([]);
  expect(codes({ fallbackAfterMinutes: null, returnAfterMinutes: null })).toEqual([]);
  expect(mixWarnings(mixOf(never))).toEqual([{ code: "one way", units: 4, perHour: 6 + 4 * 0.3, perHourThen: 10 }]);
  const kept = mixOf({
    ...never,
    eviction: "keep disks",
    diskPrice: 0.5,
    pools: [{ name: "a", price: 0.6, unitsPerMachine: 2 }],
  });
  expect(mixWarnings(kept).find(({ code }) => code === "one way")).toMatchObject({
    perHour: 6 + 4 * 0.3,
    perHourThen: 10 + 4 * 0.5,
  });
});

test("a cap is held to the price of now, whatever the series of its week begins with", () => {
  const mix = mixOf({
    pools: [
      { name: "a", priceSeries: [0.5, 0.1], cap: 0.2 },
      { name: "b", price: 0.1 },
    ],
  });
  const at = (price: number) => mixWarnings(mix, new Map([[POOL.name, { price, mostAtOnce: 0 }]])).map(({ code }) => code);
  expect(at(0.1)).toEqual([]);
  expect(at(0.3)).toEqual(["over its cap"]);
});

test.each([
  ["nothing, where two pools fill what is not firm", {}, []],
  ["nothing, where all is firm", { firm: 10, pools: [POOL], floor: 10 }, []],
  ["kept disks that wait for their own pool", { eviction: "keep disks" }, ["kept disks wait"]],
  ["one size in one zone", { pools: [POOL] }, ["one pool"]],
  ["firm units below the floor that is asked for", { floor: 8 }, ["firm below floor"]],
  [
    "a cap under the present price",
    {
      pools: [
        { ...POOL, cap: 0.2 },
        { name: "b", price: 0.1 },
      ],
    },
    ["over its cap"],
  ],
  ["a large size, the first to go", { pools: [POOL, { name: "b", price: 0.3, unitsPerMachine: 2 }] }, ["large first"]],
  ["what is never tried for again", { refillEveryMinutes: null }, ["no refill"]],
])("warns of %s", (_, given, expected) => {
  expect(codes(given)).toEqual(expected);
});

test("hours say how many are wanted when; on means what the mix names, and firm units are never above the hours", () => {
  const schedule = scheduleSchema.parse({
    name: "s",
    zone: "UTC",
    outside: "off",
    rows: [{ day: "daily", spans: ["06:00-12:00", "12:00-18:00 x4"] }],
  });
  const from = Date.UTC(2027, 2, 11) / 1000;
  const over = overTarget(mixOf({}), hoursTarget(compileSchedule(schedule, undefined), { leadMinutes: 0, all: 10 }), {
    from,
    to: from + 86_400,
  });
  expect(over.wanted).toEqual([
    { from: 0, to: 6, units: 0 },
    { from: 6, to: 12, units: 10 },
    { from: 12, to: 18, units: 4 },
    { from: 18, to: 24, units: 0 },
  ]);
  expect(mixWarnings(over).map(({ code }) => code)).toEqual(["hours below firm"]);
  const afternoon = overTarget(mixOf({}), hoursTarget(compileSchedule(schedule, undefined), { leadMinutes: 0, all: 10 }), {
    from: from + 43_200,
    to: from + 86_400,
  });
  expect(afternoon.firm).toBe(4);
});
