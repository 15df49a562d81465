import { expect, test } from "vitest";
import { aFleet, aMachine, PROVIDER } from "../../../tests/support/make";
import { compileSchedule, scheduleSchema } from "../hours";
import { hoursFinder } from "../rounds";
import { findFindings, findStrays } from ".";

const NOW = Date.UTC(2027, 2, 11, 5) / 1000;
const DAY = 86_400;
const regions = [{ name: "fjord-1", peopleZone: "Europe/Oslo", zones: [] }];
const capabilities = new Map([["a1", { ...PROVIDER, regions }]]);
const schedule = (zone: string, spans: string[]) =>
  compileSchedule(scheduleSchema.parse({ name: "week", zone, rows: [{ day: "workdays", spans }] }));

function odd(
  resources: ReturnType<typeof aMachine>[],
  { fleets = [] as ReturnType<typeof aFleet>[], week = schedule("Europe/Oslo", ["08:00-18:00"]) } = {},
) {
  const schedules = new Map([["week", week]]);
  const input = {
    now: NOW,
    ages: { imageDays: 14, runDays: 30 },
    resources,
    fleets,
    hoursOf: hoursFinder(schedules, capabilities),
    cardOf: () => null,
    commitments: [],
  };
  const oddities = findFindings({
    ...input,
    strays: findStrays(input).filter(({ kind }) => kind !== "in no fleet"),
    schedules,
    zoneOf: ({ fields }) => (fields.region === "fjord-1" ? "Europe/Oslo" : null),
  });
  return oddities.map(({ what, says }) => `${what}: ${says}`);
}
const many = (count: number, tags: Record<string, string>, from = 1) =>
  Array.from({ length: count }, (_, i) => aMachine({ name: `m-${i + from}`, tags, runSince: NOW - DAY }));

test("a value and a key that are a letter or two off what nearly all others say are told, and names of people are not", () => {
  const machines = [...many(12, { stage: "test" }), ...many(1, { stage: "tset" }, 13), ...many(1, { stgae: "test" }, 14)];
  expect(odd(machines)).toEqual([
    "m-13: stage=tset is likely stage=test, which 12 others say",
    "m-14: stgae is likely stage, which 13 others say",
  ]);
  expect(odd([...many(12, { stage: "test" }), ...many(4, { stage: "tset" }, 13)]), "four of sixteen are no slip").toEqual([]);
  const people = ["anna", "hanna", "hanne", "johan", "johann"].flatMap((owner, i) => many(i === 1 ? 5 : 1, { owner }, i * 10));
  expect(odd(people)).toEqual([]);
});

test("hours in another zone than their people, a week that overlaps itself, and a machine that two fleets mean", () => {
  const machines = many(2, { team: "draughting" });
  const fleets = [aFleet({ name: "desks", hours: "week" }), aFleet({ name: "all", select: "kind = machine", hours: undefined })];
  expect(odd(machines, { fleets, week: schedule("UTC", ["08:00-18:00", "17:00-19:00"]) }).sort()).toEqual([
    "desks, 2 machines: hours are in UTC time, and its people live in Europe/Oslo",
    "desks, week: in workdays, 08:00-18:00 and 17:00-19:00 overlap",
    "m-1 and 1 more: matched by desks and by all: desks ranks above, and has them",
  ]);
  expect(odd(machines, { fleets: fleets.slice(0, 1), week: schedule("local", ["08:00-18:00"]) })).toEqual([]);
});

test("what a fleet in force above has, or a guard, is no machine of the one below: it is told nothing of their zone", () => {
  const [own, taken, guarded] = [
    aMachine({ name: "m-1", tags: { team: "draughting" }, runSince: NOW - DAY }),
    aMachine({ name: "m-2", tags: { team: "draughting", site: "quay" }, runSince: NOW - DAY }),
    aMachine({ name: "m-3", tags: { team: "draughting", "umbrik-guard": "" }, runSince: NOW - DAY }),
  ];
  const above = aFleet({ name: "quay", select: "site = quay", hours: undefined });
  const fleets = [above, aFleet({ name: "desks", hours: "week" })];
  const week = schedule("UTC", ["08:00-18:00"]);
  const zones = (list: typeof fleets) =>
    odd([own, taken, guarded], { fleets: list, week }).filter((one) => one.includes("UTC time"));
  expect(zones(fleets)).toEqual(["desks, 1 machine: hours are in UTC time, and its people live in Europe/Oslo"]);
  const draft = Object.assign({}, above, { isDraft: true });
  expect(zones([draft, ...fleets.slice(1)])).toEqual([
    "desks, 2 machines: hours are in UTC time, and its people live in Europe/Oslo",
  ]);
});

test("long runs of one series stand in one line, and a mistyped tag that names nothing in one, too", () => {
  const long = [41, 52, 60].map((days, i) => aMachine({ name: `desk-${i + 1}`, tags: {}, runSince: NOW - days * DAY }));
  expect(odd(long)).toEqual(["desk-1 and 2 more: have run for 41 to 60 days without a stop"]);
  expect(odd(long.slice(0, 1))).toEqual(["desk-1: has run for 41 days without a stop"]);
  const classes = [...many(10, { hours: "week" }), ...many(1, { hours: "weeek" }, 11)];
  const fleets = [aFleet({ select: "has hours", hours: { fromTag: "hours" } })];
  expect(odd(classes, { fleets })).toEqual(["m-11: hours=weeek is likely hours=week, which 10 others say"]);
});
