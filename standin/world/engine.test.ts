import { expect, test } from "vitest";
import { birth } from "./birth";
import { advance } from "./engine";
import { evictionsIn } from "./evictions";
import { linesOfDay } from "./meter";
import { METRICS, samplesOver } from "./metrics";
import { Refusal } from "./refusal";
import { DAY, HOUR, present, type Unit, type World } from "./types";
import { carryOut } from "./verbs";

const unitNamed = (world: World, name: string) => world.units.find((unit) => unit.name === name) as Unit;

test("the demo world has the size and the planted mistakes that the scenario tells of", () => {
  const { units, loose } = birth();
  const count = (kind: string) => units.filter((unit) => unit.kind === kind).length;
  expect(count("machine")).toBe(180);
  expect(count("group")).toBe(6);
  expect(count("service")).toBe(3);
  expect(new Set(units.map(({ account }) => account)).size).toBe(4);
  expect(loose.filter(({ kind }) => kind === "disk")).toHaveLength(8);
  expect(loose.filter(({ kind }) => kind === "address")).toHaveLength(5);
  expect(units.filter((unit) => present(unit).state === "halted" && unit.provider === "brackwater")).toHaveLength(2);
  expect(units.filter(({ tags }) => tags.stage === "tset")).toHaveLength(1);
  expect(units.filter(({ tags }) => tags.hours === "clasroom")).toHaveLength(1);
});

test("what happens does not depend on how the clock got there", () => {
  const atOnce = birth();
  const inSteps = birth();
  const end = atOnce.bornAt + 5 * DAY;
  advance(atOnce, end);
  for (let t = inSteps.bornAt; t < end; t += 777) advance(inSteps, Math.min(end, t + 777));
  advance(inSteps, end);
  expect(inSteps.events).toEqual(atOnce.events);
  expect(atOnce.events.some(({ type }) => type === "evicted")).toBe(true);
});

test("an eviction is told ahead by the provider's notice", () => {
  const world = birth();
  advance(world, world.bornAt + 4 * DAY);
  const evicted = world.events.filter(({ type, at }) => type === "evicted" && at > world.bornAt + HOUR);
  for (const { resource, at } of evicted) {
    const notice = world.events.findLast(
      (event) => event.resource === resource && event.type === "eviction notice" && event.at < at,
    );
    expect(at - (notice?.at ?? 0)).toBe(resource.startsWith("norrhav") ? 120 : 30);
  }
});

test("a wave takes several members in one instant", () => {
  const world = birth();
  world.seed = 1_004;
  const group = unitNamed(world, "tide-pool-north");
  const place = { size: "ketch-8", zone: "fjord-1a", purchase: "spot", keepsDisks: true } as const;
  for (let t = world.bornAt; t < world.bornAt + 40 * DAY; t += HOUR) {
    advance(world, t);
    const members = world.units.filter(({ kind }) => kind === "member");
    for (const unit of members)
      if (present(unit).state === "stopped")
        asked(() => carryOut(world, unit, { verb: "start", level: null, now: t, member: null }));
    if (members.length < 6) asked(() => carryOut(world, group, { verb: "order", level: null, now: t, member: place }));
  }
  const at = world.events.filter(({ type, resource }) => type === "evicted" && resource.includes("-m0")).map((event) => event.at);
  expect(at.some((t, i) => at.indexOf(t) !== i)).toBe(true);
});

/** None is to be had now and then. */
function asked(ask: () => unknown): void {
  try {
    ask();
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
  }
}

test("what is spot was taken back in the weeks before as it is later, and all of it is up at the beginning", () => {
  const world = birth();
  const spot = world.units.filter(({ purchase, kind }) => purchase === "spot" && kind === "machine");
  expect(spot.every((unit) => present(unit).state === "running")).toBe(true);
  const evicted = world.events.filter(({ type }) => type === "evicted");
  const ofMachines = evicted.filter(({ resource }) => spot.some(({ id }) => id === resource));
  // As many as hours by day and night, dry spells and waves make it, and rather fewer than in a life without a break.
  const expected = spot.reduce((sum, { cores }) => sum + 28 * 24 * (0.0012 * 1.26 * cores + 0.0025), 0);
  expect(ofMachines.length).toBeGreaterThan(0.8 * expected - 4 * Math.sqrt(expected));
  expect(ofMachines.length).toBeLessThan(1.1 * expected + 4 * Math.sqrt(expected));
  for (const unit of world.units.filter(({ purchase }) => purchase === "spot"))
    for (const [i, { at }] of unit.life.entries()) expect(at).toBeGreaterThan(unit.life[i - 1]?.at ?? 0);
  expect(Math.max(...evicted.map(({ at }) => at))).toBeLessThan(world.bornAt - 6 * HOUR);
});

test("an evicted group refills, unless its members keep their disks", () => {
  const world = birth();
  advance(world, world.bornAt + 10 * DAY);
  expect(present(unitNamed(world, "replay-pool-kept")).level).toBeLessThan(5);
  expect(world.events.some(({ type, resource }) => type === "refilled" && resource.includes("tide-pool"))).toBe(true);
  expect(world.events.some(({ type, resource }) => type === "refilled" && resource.includes("kept"))).toBe(false);
});

test("a stop and a start take their time, and resuming is shorter than starting", () => {
  const world = birth();
  const desk = unitNamed(world, "desk-osl-07");
  const go = (verb: "start" | "stop" | "hibernate") => {
    carryOut(world, desk, { verb, level: null, now: world.doneUntil });
    const took = (desk.pending?.at ?? 0) - world.doneUntil;
    advance(world, world.doneUntil + 300);
    return took;
  };
  expect(go("stop")).toBeGreaterThan(10);
  expect(present(desk).state).toBe("stopped");
  const started = go("start");
  expect(present(desk).state).toBe("running");
  go("hibernate");
  expect(present(desk).state).toBe("hibernated");
  expect(go("start")).toBeLessThan(started);
});

test("what a provider does not allow is refused with a reason", () => {
  const world = birth();
  const now = world.doneUntil;
  expect(() => carryOut(world, unitNamed(world, "viewer-web-01"), { verb: "hibernate", level: null, now })).toThrow(
    "cannot hibernate",
  );
  expect(() => carryOut(world, unitNamed(world, "archive-index-01"), { verb: "resize", level: 99, now })).toThrow("0 to 24");
  expect(() => carryOut(world, unitNamed(world, "tide-01"), { verb: "resize", level: 1, now })).toThrow("use start and stop");
});

test("some starts fail for lack of capacity, and a later try goes through", () => {
  const world = birth();
  const desk = unitNamed(world, "desk-osl-02");
  const outcomes = Array.from({ length: 400 }, (_, i) => {
    const copy = structuredClone(desk);
    try {
      carryOut(world, copy, { verb: "start", level: null, now: world.bornAt + i * 600 });
      return "started";
    } catch (error) {
      return (error as { code: string }).code;
    }
  });
  const failed = outcomes.filter((outcome) => outcome === "no_capacity").length;
  expect(failed).toBeGreaterThan(2);
  expect(failed).toBeLessThan(40);
});

test("the meter's days add up to the whole run, rounded up once, on the day it ends", () => {
  const world = birth();
  const unit = { ...unitNamed(world, "viewer-web-01"), addresses: 0, diskGib: 0, life: [] as Unit["life"] };
  const day = Math.floor(world.bornAt / DAY) * DAY;
  unit.life = [
    { at: day - 90, state: "running", level: 1 },
    { at: day + 31, state: "stopped", level: 0 },
  ];
  const until = day + 2 * DAY;
  const before = linesOfDay(1, unit, { day: day - DAY, until });
  const after = linesOfDay(1, unit, { day, until });
  // 121 s by the started minute are 180 s: 90 on the first day, 90 on the second.
  expect(before.map(({ quantity, cost }) => [quantity, cost])).toEqual([["0.025000", "0.003900"]]);
  expect(after.map(({ quantity }) => quantity)).toEqual(["0.025000"]);
  expect(linesOfDay(1, unit, { day: day + DAY, until })).toEqual([]);
});

test("metrics are there while a machine runs, follow the day where its people live, and are the same each time", () => {
  const world = birth();
  const unit = unitNamed(world, "desk-osl-07");
  const day = Math.floor(world.bornAt / DAY) * DAY - DAY;
  const cpu = samplesOver(world.seed, unit, { metric: "cpu", from: day, to: day + DAY });
  expect(cpu).toHaveLength(288);
  expect(samplesOver(world.seed, unit, { metric: "cpu", from: day, to: day + DAY })).toEqual(cpu);
  const mean = (from: number, to: number) =>
    cpu.slice(from * 12, to * 12).reduce<number>((sum, value) => sum + (value ?? 0), 0) / ((to - from) * 12);
  expect(mean(9, 11)).toBeGreaterThan(5 * mean(0, 3));
  const stopped = { ...unit, life: [{ at: 0, state: "stopped" as const, level: 0 }] };
  for (const metric of METRICS)
    expect(samplesOver(world.seed, stopped, { metric, from: day, to: day + DAY }).every((value) => value === null)).toBe(true);
});

test("members, machines and groups are taken back by one process: a wave takes what there is of a size in a zone, whatever it is", () => {
  const kin = { size: "ketch-8", zone: "fjord-1a", provider: "norrhav", region: "fjord-1", cores: 8 };
  const ids = ["one", "two", "three", "four"];
  const waves = Array.from({ length: 4_000 }, (_, i) => ids.map((id) => evictionsIn(7, { ...kin, id }, 500_000 + i).inWave));
  const taken = waves.filter((times) => times.some((at) => at !== null));
  expect(taken.length).toBeGreaterThan(10);
  // Whoever goes in a wave goes in its instant.
  expect(taken.every((times) => new Set(times.filter((at) => at !== null)).size === 1)).toBe(true);
  expect(taken.some((times) => times.filter((at) => at !== null).length > 1)).toBe(true);
});

test("owners go on for months: whoever's machine was stopped starts it when they next want to work, and turns it off or not", () => {
  const world = birth();
  world.owners = true;
  const desks = world.units.filter(({ habit, sittings, kind }) => habit === "desk" && !sittings && kind === "machine");
  expect(desks.length).toBeGreaterThan(5);
  const startsOf = (from: number, to: number) =>
    desks.reduce(
      (sum, { life }) => sum + life.filter(({ at, state }) => state === "starting" && at > from && at <= to).length,
      0,
    );
  const month = 28 * DAY;
  for (let n = 0; n < 8; n++) {
    // All are stopped, now and then, by night.
    advance(world, world.bornAt + n * 7 * DAY + 60);
    for (const unit of desks)
      if (present(unit).state === "running") carryOut(world, unit, { verb: "stop", level: null, now: world.doneUntil });
    advance(world, world.bornAt + (n + 1) * 7 * DAY);
  }
  const [first, second] = [
    startsOf(world.bornAt, world.bornAt + month),
    startsOf(world.bornAt + month, world.bornAt + 2 * month),
  ];
  expect(first).toBeGreaterThan(desks.length * 4);
  expect(second).toBeGreaterThan(first / 2);
  // They turn them off, too; and nobody comes to the machines of an office but by its own rule.
  expect(desks.some(({ life }) => life.some(({ at, state }) => state === "stopping" && at % DAY > 13 * HOUR))).toBe(true);
  const quiet = birth();
  advance(quiet, quiet.bornAt + 7 * DAY);
  const untouched = quiet.units.filter(({ habit, sittings }) => habit === "desk" && !sittings);
  expect(untouched.every(({ life }) => life.every(({ at, state }) => at <= quiet.bornAt || state !== "starting"))).toBe(true);
});
