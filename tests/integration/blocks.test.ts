import { afterAll, beforeAll, expect, test } from "vitest";
import { linesOfDay } from "../../standin/world/meter";
import type { Unit } from "../../standin/world/types";
import { within } from "../support/patience";
import { HOUR, startTrusted, type Trusted } from "../support/trusted";

/** A database server of the second cloud, which bills services by begun hours, in what its own meter writes down. */
const DAY = 24 * HOUR;
const MONDAY = Date.UTC(2027, 2, 15) / 1000;
/** Closing is at eight, on the second day at twenty past. */
const PLAN = `
umbrik: 1
schedules:
  - name: archive
    zone: UTC
    rows:
      - { day: daily, spans: ["08:00-20:00"] }
      - { day: "2027-03-17", spans: ["08:00-20:20"] }
fleets:
  - { name: archive, select: "name = archive-south", hours: archive, lead: 1 }
`;

let trusted: Trusted;
let archive: Unit;
beforeAll(async () => {
  trusted = await startTrusted(PLAN, ["archive"], { at: MONDAY + 22 * HOUR + 30, accounts: ["skerry-south"] });
  archive = trusted.keeper.world.units.find(({ name }) => name.startsWith("archive-south")) as Unit;
  // What ran before the plan is off once its block has ended.
  await trusted.rounds(70);
}, within(60));
afterAll(() => trusted?.close());

const stateOf = () => archive.life.at(-1)?.state;
/** Rounds every minute from so many minutes before an hour of a day until so many after it. */
async function roundsAround(at: number, { before, after }: { before: number; after: number }): Promise<void> {
  // A start at ten past a full minute takes between 52 and 101 seconds: a run begins within the minute after opening.
  trusted.keeper.stepTo(at - before * 60 - 50);
  await trusted.rounds(before + after);
}
/** The run of a day as the meter has it. */
function billed(day: number): { hours: number; ranHours: number; from: number; to: number } {
  const lines = linesOfDay(trusted.keeper.world.seed, archive, { day, until: trusted.keeper.now() });
  const compute = lines.filter(({ item }) => item === "compute");
  expect(compute, "one run").toHaveLength(1);
  const [{ quantity, from, to }] = compute as [(typeof compute)[number]];
  return { hours: Number(quantity) / 6, ranHours: (to - from) / HOUR, from, to };
}

test("a service that starts at opening is off before a thirteenth hour begins, and stays off through the last minutes of its hours", async () => {
  const day = MONDAY + DAY;
  await roundsAround(day + 8 * HOUR, { before: 3, after: 8 });
  expect(stateOf()).toBe("running");
  await roundsAround(day + 20 * HOUR, { before: 5, after: 10 });
  expect(stateOf()).toBe("stopped");
  const { hours, ranHours, to } = billed(day);
  expect(hours).toBe(12);
  expect(ranHours).toBeGreaterThan(11.95);
  expect(to, "no earlier than two rounds before closing").toBeGreaterThanOrEqual(day + 20 * HOUR - 120);
});

test("one that closes early in a block runs on for what is paid anyway, and goes before the next begins", async () => {
  const day = MONDAY + 2 * DAY;
  await roundsAround(day + 8 * HOUR, { before: 3, after: 8 });
  await roundsAround(day + 20 * HOUR + 1200, { before: 25, after: 10 });
  expect(stateOf(), "its block goes on until nine").toBe("running");
  await roundsAround(day + 21 * HOUR, { before: 10, after: 8 });
  expect(stateOf()).toBe("stopped");
  const { hours, ranHours } = billed(day);
  expect(hours).toBe(13);
  expect(ranHours).toBeGreaterThan(12.9);
});
