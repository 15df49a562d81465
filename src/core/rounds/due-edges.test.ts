import fc from "fast-check";
import { expect, test } from "vitest";
import { aFleet, aMachine, PLACED, PROVIDER } from "../../../tests/support/make";
import { asLevel, compileSchedule, scheduleSchema } from "../hours";
import { formatInstant, tryParseInstant } from "../time";
import { dueAt, type Following, hoursAt, hoursFinder, nextDueEdges, type Override } from ".";

const at = (text: string) => tryParseInstant(text) as number;
const OFFICE = compileSchedule(
  scheduleSchema.parse({ name: "s", zone: "Europe/Oslo", rows: [{ day: "workdays", spans: ["07:30-18:00"] }] }),
);
const following = (more: Partial<Following> = {}): Following => ({
  fleet: aFleet(),
  overrides: [],
  hours: { kind: "schedule", compiled: OFFICE },
  ...more,
});
const edges = (given: Following, t: string, count = 4) =>
  nextDueEdges(aMachine(), given, { t: at(t), count }).map((edge) => [formatInstant(edge.at), edge.to, edge.decidedBy]);

test("hours alone give their own edges, the lead counted", () => {
  expect(edges(following(), "2027-03-11T05:00:00Z", 3)).toEqual([
    ["2027-03-11T06:30:00Z", 1, "hours"],
    ["2027-03-11T17:00:00Z", 0, "hours"],
    ["2027-03-12T06:30:00Z", 1, "hours"],
  ]);
  expect(edges(following({ fleet: aFleet({ lead: 10 }) }), "2027-03-11T05:00:00Z", 1)).toEqual([
    ["2027-03-11T06:20:00Z", 1, "hours"],
  ]);
});

test("a hold hides the edges under it, and its end is an edge where the hours say otherwise", () => {
  const hold = {
    id: 1,
    resourceId: "m1",
    fleet: null,
    level: asLevel(1),
    from: 0,
    to: at("2027-03-12T21:00:00Z"),
    reason: "release",
    ...PLACED,
  };
  expect(edges(following({ overrides: [hold] }), "2027-03-11T12:00:00Z", 2)).toEqual([
    ["2027-03-12T21:00:00Z", 0, "hours"],
    ["2027-03-15T06:30:00Z", 1, "hours"],
  ]);
});

test("without hours only holds make edges, and then there are no more", () => {
  const hold = {
    id: 1,
    resourceId: null,
    fleet: "f",
    level: asLevel(0),
    from: at("2027-03-11T12:00:00Z"),
    to: at("2027-03-11T13:00:00Z"),
    reason: "move",
    ...PLACED,
  };
  expect(edges(following({ hours: { kind: "none" }, overrides: [hold] }), "2027-03-11T05:00:00Z")).toEqual([
    ["2027-03-11T12:00:00Z", 0, "hold on the fleet"],
    ["2027-03-11T13:00:00Z", null, "leave"],
  ]);
});

test("the edge after a clock change says how many hours were lost or gained", () => {
  const [first, second] = nextDueEdges(aMachine(), following(), { t: at("2027-03-26T18:00:00Z"), count: 2 });
  expect(first).toMatchObject({ at: at("2027-03-29T05:30:00Z"), clockChangeS: -3600 });
  expect(second?.clockChangeS).toBe(0);
  const autumn = nextDueEdges(aMachine(), following(), { t: at("2027-10-29T17:00:00Z"), count: 1 });
  expect(autumn[0]?.clockChangeS).toBe(3600);
});

test("a tag's line is followed in the region's zone; without a zone it is left, with the reason", () => {
  const region = { name: "fjord-1", peopleZone: "Asia/Kathmandu", zones: [] };
  const fleet = aFleet({ hours: { fromTag: "hours" } });
  const machine = aMachine({ tags: { hours: "Sa 09:00-13:00" } });
  const known = hoursFinder(new Map(), new Map([["a1", { ...PROVIDER, regions: [region] }]]))(machine, fleet);
  expect(nextDueEdges(machine, following({ fleet, hours: known }), { t: at("2027-03-11T05:00:00Z"), count: 1 })).toMatchObject([
    { at: at("2027-03-13T03:15:00Z"), to: 1 },
  ]);
  expect(hoursFinder(new Map(), new Map([["a1", PROVIDER]]))(machine, fleet)).toMatchObject({ kind: "unreadable" });
});

/** What is due, asked minute by minute. */
function slowEdges(given: Following, from: number, to: number): [number, number | null][] {
  const level = (t: number) => {
    const hours = { kind: "schedule" as const, now: hoursAt(OFFICE, t, { leadMinutes: given.fleet.lead, ownSize: asLevel(1) }) };
    return dueAt(aMachine(), { now: t, fleet: given.fleet, overrides: given.overrides, hours }).level;
  };
  const edges: [number, number | null][] = [];
  let before = level(from);
  for (let t = from + 60; t < to; t += 60) {
    const now = level(t);
    if (now !== before) edges.push([t, now]);
    before = now;
  }
  return edges;
}

test("edges are those that asking every minute finds, whatever holds lie over the hours", () => {
  const start = at("2027-03-27T00:00:00Z");
  const hold = (n: number) =>
    fc.tuple(fc.integer({ min: 0, max: 4000 }), fc.integer({ min: 5, max: 2000 }), fc.constantFrom(0, 1), fc.boolean()).map(
      ([begin, length, level, isOwn]): Override => ({
        id: n,
        resourceId: isOwn ? "m1" : null,
        fleet: isOwn ? null : "f",
        level: asLevel(level),
        from: start + begin * 60,
        to: start + (begin + length) * 60,
        reason: "any",
        ...PLACED,
      }),
    );
  fc.assert(
    fc.property(fc.tuple(hold(1), hold(2), hold(3)), fc.constantFrom(0, 25), (holds, lead) => {
      const given = following({ overrides: holds, fleet: aFleet({ lead }) });
      const slow = slowEdges(given, start, start + 4 * 86_400);
      const fast = nextDueEdges(aMachine(), given, { t: start, count: 40 }).filter((edge) => edge.at < start + 4 * 86_400);
      expect(fast.map((edge) => [edge.at, edge.to])).toEqual(slow);
    }),
    { numRuns: 25, seed: 73 },
  );
});
