import { afterAll, beforeAll, expect, test } from "vitest";
import { DEMO_ACTOR, WORKER } from "@/services/admin";
import { closeSpendDays } from "@/services/cost";
import { readClouds } from "@/services/inventory";
import { mixOffers } from "@/services/mix";
import type { Unit } from "../../standin/world/types";
import { within } from "../support/patience";
import { type Here, startHere } from "../support/weeks/standin-here";

/** What is offered for a mix, held to the stand-in's own books: evictions, machine-hours, and what cannot be spot. */
const START = Date.UTC(2027, 2, 11, 5) / 1000;
const DAY = 86_400;
const SEEN = 28 * DAY;
const TIDES = "team = tides and kind = group and region = fjord-1";

let here: Here;
beforeAll(async () => {
  here = await startHere(START);
  // Ten days, by an hour at a time as rounds would see them.
  for (let t = START; t <= START + 10 * DAY; t += 6 * 3600) {
    here.keeper.stepTo(t);
    await readClouds(here.services, t);
  }
}, within(120));
afterAll(() => here?.close());

const BILLED = ["running", "starting", "stopping"];

/** Hours of machines at spot price, from what became of each unit, one stretch after the other. */
function machineHours(units: readonly Unit[], from: number, to: number): number {
  let seconds = 0;
  for (const { life } of units)
    life.forEach(({ at, state, level }, i) => {
      const end = Math.min(to, life[i + 1]?.at ?? to);
      const begin = Math.max(from, at);
      if (BILLED.includes(state) && end > begin) seconds += (end - begin) * level;
    });
  return seconds / 3600;
}

test("evictions and machine-hours are those of the stand-in's books, and the rate is what they say", async () => {
  const { world } = here.keeper;
  const now = here.keeper.now();
  const offers = await mixOffers(here.services, DEMO_ACTOR, { selector: TIDES });
  expect(offers).toMatchObject({ size: "ketch-8", region: "fjord-1", os: "linux", others: 0 });
  const spot = world.units.filter(({ purchase, region }) => purchase === "spot" && region === "fjord-1");
  for (const size of new Set(spot.map((unit) => unit.size))) {
    const own = spot.filter((unit) => unit.size === size);
    const ids = new Set(own.map(({ id }) => id));
    const evicted = world.events.filter(
      ({ type, resource, at }) => type === "evicted" && ids.has(resource) && at >= now - SEEN && at < now,
    );
    const offer = offers?.offers.find((one) => one.size === size);
    expect({ size, evictions: offer?.evictions }).toEqual({ size, evictions: evicted.length });
    expect(offer?.machineHours).toBeCloseTo(machineHours(own, now - SEEN, now), 1);
    // What was thought before, and those that went alone: all but a few that a wave may have taken.
    const alone = evicted.filter(({ at }) => evicted.filter((other) => other.at === at).length === 1).length;
    expect(offer?.rate.rate).toBeCloseTo(50 + (offer?.machineHours ?? 0), 1);
    expect(offer?.rate.shape).toBeLessThanOrEqual(0.6 + alone);
    expect(offer?.rate.shape).toBeGreaterThan(0.6 + alone * 0.6);
    expect(offer?.byHour.reduce((sum, count) => sum + count, 0)).toBe(evicted.length);
  }
});

test("prices are told as far back as they are known, and to now; days that are closed bring theirs", async () => {
  const hours = async () => {
    const offers = await mixOffers(here.services, DEMO_ACTOR, { selector: TIDES });
    return offers?.offers
      .filter(({ size }) => size === "ketch-8")
      .map(({ price, prices }) => [prices.length, prices.at(-1) === price]);
  };
  // Of the days before that of the first reading, which was at five, nothing was asked.
  expect(await hours()).toEqual(Array.from({ length: 3 }, () => [10 * 24 + 5 + 1, true]));
  await closeSpendDays(here.services, WORKER);
  expect(await hours()).toEqual(Array.from({ length: 3 }, () => [28 * 24, true]));
});

test("only the group counts: machines beside it are in no figure, and machines alone have no mix", async () => {
  const alone = await mixOffers(here.services, DEMO_ACTOR, { selector: TIDES });
  const machines = "team = draughting and region = fjord-1 and kind = machine";
  const beside = await mixOffers(here.services, DEMO_ACTOR, { selector: `(${TIDES}) or (${machines})` });
  expect(alone).toMatchObject({ groups: 1, others: 0 });
  expect(beside?.others).toBeGreaterThan(10);
  expect({ ...beside, others: 0 }).toEqual(alone);
  expect(await mixOffers(here.services, DEMO_ACTOR, { selector: machines })).toBeNull();
});

test("what cannot be spot says why, and a fleet of nothing that is counted has no offers", async () => {
  const offers = await mixOffers(here.services, DEMO_ACTOR, { selector: TIDES });
  const why = new Map(offers?.offers.map(({ size, whyNot }) => [size, whyNot]));
  expect(why.get("skiff-2")).toBe("its provider has no spot for skiff-2");
  expect(why.get("ketch-8")).toBeNull();
  expect(why.get("sloop-4")).toBe("it is smaller than one unit");
  expect(offers?.offers.find(({ size }) => size === "brig-16")?.units).toBe(2);
  expect(await mixOffers(here.services, DEMO_ACTOR, { selector: "team = archive and kind = service" })).toBeNull();
  expect(await mixOffers(here.services, DEMO_ACTOR, { selector: "team = (" })).toBeNull();
});
