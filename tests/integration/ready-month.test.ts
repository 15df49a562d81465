import { afterAll, beforeAll, expect, test } from "vitest";
import { compileSchedule, type Schedule } from "@/core/hours";
import { spreadOver } from "@/core/idle";
import { parsePlanFile } from "@/core/plan";
import { forecastPool, layPool, suggestedSpare } from "@/core/ready";
import { hoursTarget } from "@/core/targets";
import { DEMO_ACTOR, WORKER } from "@/services/admin";
import { closeSpendDays, learnLikelyUse, measureSavings, realisedView } from "@/services/cost";
import { readMetrics } from "@/services/metrics";
import { poolHistory } from "@/services/ready";
import { fullInventory, leverDays } from "@/store";
import { isSat, type Office, officeTimers, openOffice } from "../../standin/world/office";
import { DAY, type Unit, type World } from "../../standin/world/types";
import { within } from "../support/patience";
import { metered, type Promised, promisesNow } from "../support/promises";
import { HOUR, startTrusted, type Trusted } from "../support/trusted";

/**
 * Three weeks of a pool: 28 desks for 23 people who come to any that is ready, most of them within an hour. Nobody who sits at
 * one loses it, who comes to none that is ready has one started, and waits and machine-hours are what was foretold.
 */
const ZONE = "Europe/Oslo";
const PLAN = `
umbrik: 1
schedules:
  - name: pool
    zone: ${ZONE}
    rows:
      - { day: workdays, spans: ["07:30-08:15 x8", "08:15-15:00 x12"] }
fleets:
  - name: desks
    select: team = draughting and region = fjord-1
    hours: pool
    lead: 10
    offAction: hibernate
    pooled: { spare: 2, settle: 10 }
`;
/** Monday 15 March 2027, 05:00 in Oslo. */
const START = Date.UTC(2027, 2, 15, 4) / 1000;
const DAYS = 21;
const PEOPLE = 23;

let trusted: Trusted;
beforeAll(async () => {
  trusted = await startTrusted(PLAN, ["desks"], {
    at: START,
    accounts: ["skerry-desks"],
    prepare: (world) => {
      world.units = world.units.filter(({ name }) => name.startsWith("desk-osl"));
      openOffice(world, { zone: ZONE, seats: world.units, people: PEOPLE });
    },
  });
}, within(120));
afterAll(() => trusted?.close());

const stateOf = (unit: Unit) => unit.life.at(-1)?.state ?? "";
const isUp = (unit: Unit) => stateOf(unit) === "running" || stateOf(unit) === "starting";

test(
  "in a month of a pool nobody in use is stopped, who waits is helped at once, and waits and hours are what was foretold",
  async () => {
    const { services, keeper } = trusted;
    const { units } = keeper.world;
    const office = keeper.world.office as Office;
    expect(units).toHaveLength(28);
    await readMetrics(services, WORKER);
    const history = await poolHistory(services, DEMO_ACTOR, {
      ids: (await fullInventory(services.pool)).map(({ id }) => id),
      waits: { disconnectWait: null, signOffWait: 0 },
    });
    const file = parsePlanFile(PLAN);
    const week = compileSchedule((file.ok && file.value.schedules[0]) as Schedule);
    const foretold = forecastPool(
      layPool(history, { target: hoursTarget(week, { leadMinutes: 10, all: 28 }), spare: 2, machines: 28, startS: 25 }),
      1,
    );
    const end = START + DAYS * 24 * HOUR;
    // What every page tells of time to come is asked at a morning, an evening with desks still on, and in the middle of a day.
    await learnLikelyUse(services, WORKER);
    const promises: Promised[] = [];
    const asks = [START + 60, START + 15.9 * HOUR, START + 3 * 24 * HOUR + 8 * HOUR, START + 9 * 24 * HOUR + 2 * HOUR];
    let machineSeconds = 0;
    let before = keeper.now();
    let learned = Math.floor(before / DAY);
    while (keeper.now() < end) {
      const sat = units.filter((unit) => isSat(unit, keeper.now()));
      keeper.stepTo(Math.min(end, nextLook(keeper.world)));
      machineSeconds += units.filter(isUp).length * (keeper.now() - before);
      before = keeper.now();
      for (const unit of sat) {
        const last = unit.sittings?.findLast(({ to }) => to !== null);
        const stop = unit.life.findLast(({ state }) => state === "stopping");
        expect(
          stop !== undefined && last !== undefined && isSat(unit, stop.at - 1) && isSat(unit, stop.at),
          `${unit.name} was stopped under somebody`,
        ).toBe(false);
      }
      await trusted.round();
      // As the worker does each day.
      if (Math.floor(keeper.now() / DAY) > learned) {
        learned = Math.floor(keeper.now() / DAY);
        await readMetrics(services, WORKER);
        await learnLikelyUse(services, WORKER);
      }
      if (keeper.now() < (asks[0] ?? Number.POSITIVE_INFINITY)) continue;
      asks.shift();
      await readMetrics(services, WORKER);
      await learnLikelyUse(services, WORKER);
      promises.push(...(await promisesNow(trusted)));
    }
    await closeSpendDays(services, WORKER);
    for (const { what, from, to, told } of promises) {
      const came = metered(keeper.world, { from, to });
      console.log(`pool, ${what}: ${told.toFixed(2)} told, ${came.toFixed(2)} came (${((told / came - 1) * 100).toFixed(1)} %)`);
      // A day differs from those before it by who comes; a month's end by little.
      expect(Math.abs(told - came), what).toBeLessThan(came * (to - from > 3 * 24 * HOUR ? 0.05 : 0.2));
    }
    // What each day was foretold to cost beside the hours is kept, and held to what people came to.
    await measureSavings(services, WORKER);
    const days = (await leverDays(services.pool, { from: "2027-03-16", to: "2027-04-05" })).filter(
      ({ lever }) => lever === "ready",
    );
    const held = days.filter(({ saved, forecast }) => forecast && saved >= forecast.p5 && saved <= forecast.p95);
    const { total } = await realisedView(services, DEMO_ACTOR, { fleet: null });
    console.log(
      `pool, by day: ${held.length} of ${days.length} within what was foretold; saved ${total.saved}, projected ${total.projected}`,
    );
    expect(days.length).toBeGreaterThan(15);
    expect(held.length).toBeGreaterThanOrEqual(days.length * 0.8);
    const [saved, projected] = [total.saved, total.projected].map((text) => Number(text.replaceAll(/[^\d.-]/g, ""))) as [
      number,
      number,
    ];
    expect(Math.abs(saved - projected)).toBeLessThan(projected * 0.03);
    const waits = office.waits.filter(({ at }) => at >= START && at < end);
    expect(waits.every(({ until }) => until !== null)).toBe(true);
    const minutes = waits.reduce((sum, { at, until }) => sum + ((until ?? end) - at) / 60, 0);
    const hours = machineSeconds / 3600;
    const own = foretold.tried.find(({ spare }) => spare === 2);
    const weeks = own?.weeks ?? [];
    const spread = (values: number[]) => spreadOver(values, DAYS * 24 * HOUR, 1);
    const [onHours, waited] = [spread(weeks.map((one) => one.onHours)), spread(weeks.map(({ waits: n }) => n))];
    console.log(
      `pool, ${DAYS} days: ${onHours.p50.toFixed(0)} machine-hours foretold (${onHours.p5.toFixed(0)} to ${onHours.p95.toFixed(0)}), ${hours.toFixed(0)} were on; ` +
        `${waited.p50.toFixed(1)} waits foretold (${waited.p5.toFixed(1)} to ${waited.p95.toFixed(1)}), ${waits.length} people waited, ${minutes.toFixed(0)} min in all; suggested spare ${foretold.suggested}`,
    );
    expect(suggestedSpare(foretold.tried)).toBe(foretold.suggested);
    expect(hours).toBeGreaterThanOrEqual(onHours.p5 * 0.97);
    expect(hours).toBeLessThanOrEqual(onHours.p95 * 1.03);
    expect(waits.length).toBeGreaterThanOrEqual(Math.floor(waited.p5));
    expect(waits.length).toBeLessThanOrEqual(Math.ceil(waited.p95));
  },
  within(600),
);

/** A little after somebody comes or goes, with the edges of the morning; never within a minute. Half an hour on by day, two by night. */
function nextLook(world: World): number {
  const now = world.doneUntil;
  const date = new Date(now * 1000);
  const hour = date.getUTCHours();
  if (date.getUTCDay() % 6 === 0) return now + 4 * HOUR;
  if (hour >= 18) return now + 2 * HOUR;
  if (hour < 5) return Math.min(now + 2 * HOUR, Math.floor(now / (24 * HOUR)) * 24 * HOUR + 5 * HOUR);
  if (hour >= 8) return now + (hour < 13 ? HOUR / 2 : HOUR / 4);
  const next = Math.min(...officeTimers(world).map(({ at }) => at));
  return Math.max(now + 60, Math.min(next + 20, now + 300));
}
