import fc from "fast-check";
import { expect, test } from "vitest";
import { aFleet, aMachine, PROVIDER } from "../../../tests/support/make";
import { asLevel, compileSchedule, scheduleSchema } from "../hours";
import { pooledSchema, type Resource } from "../plan";

import { tryParseInstant } from "../time";
import { dueAt, dueOver, type Following, hoursAt, lifeAhead, OVERRIDE_KINDS, type Override, ownSizeOf } from ".";

const START = tryParseInstant("2027-03-27T00:00:00Z") as number;
const HOURS = 60;
const spans = fc.array(
  fc
    .tuple(fc.integer({ min: 0, max: 22 }), fc.integer({ min: 1, max: 10 }), fc.constantFrom("", "", " x2", " x0"))
    .map(([start, length, level]) => {
      const two = (n: number) => String(n % 24).padStart(2, "0");
      return `${two(start)}:00-${two(start + length)}:00${level}`;
    })
    .filter((text) => text.slice(0, 5) !== text.slice(6, 11)),
  { minLength: 1, maxLength: 3 },
);
const hold = fc.record({
  isOwn: fc.boolean(),
  level: fc.integer({ min: 0, max: 3 }),
  from: fc.integer({ min: -10, max: HOURS }),
  length: fc.integer({ min: 1, max: 30 }),
  kind: fc.constantFrom("hold" as const, ...OVERRIDE_KINDS),
});
const resources: readonly Resource[] = [
  aMachine(),
  aMachine({ kind: "group", levelMax: 6, ownSize: asLevel(4), level: asLevel(4) }),
  aMachine({ kind: "service", levelMax: 16, ownSize: asLevel(8), level: asLevel(8) }),
  aMachine({ tags: { "umbrik-guard": "yes" } }),
];
const given = fc.record({
  resource: fc.constantFrom(...resources),
  zone: fc.constantFrom("Europe/Oslo", "Asia/Kathmandu", "Pacific/Auckland"),
  outside: fc.constantFrom("off", "leave", 3),
  spans,
  lead: fc.constantFrom(0, 30, 90),
  size: fc.constantFrom(undefined, 3),
  starts: fc.constantFrom("plan", "hand"),
  isPool: fc.boolean(),
  holds: fc.array(hold, { maxLength: 3 }),
});

function followingOf(
  raw: ReturnType<typeof fc.sample<typeof given extends fc.Arbitrary<infer T> ? T : never>>[number],
): Following {
  const fleet = aFleet({
    lead: raw.lead,
    starts: raw.starts,
    offAction: "hibernate",
    ...(raw.size ? { size: raw.size } : {}),
    ...(raw.isPool ? { pooled: pooledSchema.parse({}) } : {}),
  });
  const rows = [{ day: "daily", spans: raw.spans }];
  const compiled = compileSchedule(scheduleSchema.parse({ name: "s", zone: raw.zone, outside: raw.outside, rows }));
  const holds = raw.holds.map(
    ({ isOwn, level, from, length, kind }, i): Override => ({
      id: i + 1,
      resourceId: isOwn ? raw.resource.id : null,
      fleet: isOwn ? null : fleet.name,
      level: asLevel(isOwn && kind === "trip" ? 0 : level),
      kind: isOwn ? kind : "hold",
      ruleKey: null,
      offAction: isOwn && kind === "trip" ? "stop" : null,
      from: START + from * 3600,
      to: START + (from + length) * 3600,
      reason: "because",
    }),
  );
  return { fleet, overrides: holds, hours: { kind: "schedule", compiled } };
}

test("over a span it is what asking at every quarter of an hour gives, whatever guards, holds, trips, leads and sizes", () => {
  fc.assert(
    fc.property(given, (raw) => {
      const { resource } = raw;
      const following = followingOf(raw);
      const { fleet, overrides: holds, hours } = following;
      if (hours.kind !== "schedule") throw new Error("it has hours");
      const over = dueOver(resource, following, { from: START, to: START + HOURS * 3600 });
      expect(over[0]?.from).toBe(START);
      expect(over.at(-1)?.to).toBe(START + HOURS * 3600);
      over.slice(1).forEach((span, i) => {
        expect(span.from).toBe(over[i]?.to);
        expect(span.level === over[i]?.level && span.decidedBy === over[i]?.decidedBy).toBe(false);
      });
      for (let t = START; t < START + HOURS * 3600; t += 900) {
        const now = hoursAt(hours.compiled, t, { leadMinutes: fleet.lead, ownSize: ownSizeOf(resource, fleet) });
        const due = dueAt(resource, { now: t, fleet, overrides: holds, hours: { kind: "schedule", now } });
        const span = over.find(({ from, to }) => from <= t && t < to);
        expect([span?.level, span?.decidedBy], new Date(t * 1000).toISOString()).toEqual([due.level, due.decidedBy]);
      }
    }),
    { numRuns: 150, seed: 62 },
  );
});

test("a life to come keeps what is due, never above what is allowed; by hand it only ever falls; a guarded one stays", () => {
  fc.assert(
    fc.property(given, (raw) => {
      const { resource } = raw;
      const following = followingOf(raw);
      const window = { from: START, to: START + HOURS * 3600 };
      const due = dueOver(resource, following, window);
      const life = lifeAhead(resource, following, { ...window, capabilities: PROVIDER });
      expect(life[0]?.from).toBe(START);
      expect(life.at(-1)?.to).toBe(window.to);
      let before = resource.level as number;
      for (let t = START; t < window.to; t += 3600) {
        const now = life.find(({ from, to }) => from <= t && t < to);
        const wanted = due.find(({ from, to }) => from <= t && t < to)?.level ?? null;
        const most = resource.kind === "machine" ? 1 : resource.levelMax;
        const capped = wanted === null ? before : Math.min(wanted, most);
        const expected = following.fleet.starts === "hand" ? Math.min(before, capped) : capped;
        expect(now?.level).toBe(expected);
        expect(now?.state === "running").toBe(expected > 0);
        before = expected;
      }
    }),
    { numRuns: 150, seed: 63 },
  );
});

test("without a plan, or of a provider that has not said its rules, everything stays as it is", () => {
  const machine = aMachine({ state: "halted", level: asLevel(0) });
  const window = { from: START, to: START + 3600 };
  expect(lifeAhead(machine, null, { ...window, capabilities: PROVIDER })).toEqual([{ ...window, state: "halted", level: 0 }]);
});
