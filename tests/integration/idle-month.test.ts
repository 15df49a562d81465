import { afterAll, beforeAll, expect, test } from "vitest";
import { asLevel } from "@/core/hours";
import { type IdleRule, metricsRead, slotsWithoutTrips, spreadOver, weekEdges, weeklyWorth } from "@/core/idle";
import { cardReader, costPerSecond } from "@/core/pricing";
import { formatDate } from "@/core/time";
import { DEMO_ACTOR, WORKER } from "@/services/admin";
import { closeSpendDays, learnLikelyUse, measureSavings, realisedView } from "@/services/cost";
import { fleetSamples } from "@/services/idle";
import { readMetrics } from "@/services/metrics";
import { alarmChanges, fleetList, leverDays, priceBooks, resourceList } from "@/store";
import { lifeOf } from "../../standin/world/habits";
import { change, tell } from "../../standin/world/happen";
import { isSignedIn } from "../../standin/world/metrics";
import type { Unit } from "../../standin/world/types";
import { within } from "../support/patience";
import { metered, monthNow } from "../support/promises";
import { HOUR, startTrusted, type Trusted } from "../support/trusted";

/**
 * Four weeks with alarms in force on desks and on boxes of the lab, which nothing else turns off. People go on as they did in the
 * weeks before: they turn desks on and off by their habits, and who finds a desk off when they sit down starts it. What alarms may
 * never do is looked at after every round.
 */
const ZONE = "Europe/Oslo";
const PLAN = `
umbrik: 1
schedules: []
fleets:
  - name: desks
    select: team = draughting and region = fjord-1 and name ~ desk-osl-0*
    idle:
      - match: all
        conditions:
          - { metric: sessions.active, statistic: max, op: "<", threshold: 1, window: 30 }
          - { metric: cpu, statistic: mean, op: "<", threshold: 8, window: 30 }
        warn: 10
        settle: 20
        startMinutes: 2
  - name: lab
    select: team = sonar-lab and region = fjord-1 and name ~ sonar-0*
    idle:
      - match: all
        conditions: [{ metric: cpu, statistic: mean, op: "<", threshold: 8, window: 120 }]
        warn: 15
        settle: 30
`;
/** Monday 15 March 2027, 06:00 in Oslo. */
const START = Date.UTC(2027, 2, 15, 5) / 1000;
const STEP = 900;
const TAKEN = /^(desk-osl|sonar)-0\d$/;
const DAYS = 28;

let trusted: Trusted;
beforeAll(async () => {
  trusted = await startTrusted(PLAN, ["desks", "lab"], {
    at: START,
    accounts: ["skerry-desks", "skerry-survey"],
    prepare: (world) => {
      world.units = world.units.filter(({ name }) => TAKEN.test(name));
      // Here everybody has a desk of their own.
      delete world.office;
      for (const unit of world.units) delete unit.sittings;
    },
  });
}, within(120));
afterAll(() => trusted?.close());

const keyOf = ({ account, id }: Unit) => `${account}:${id}`;
const stateOf = (unit: Unit) => unit.life.at(-1)?.state ?? "";
const isUp = (unit: Unit) => stateOf(unit) === "running" || stateOf(unit) === "starting";

test(
  "in a month with alarms nobody at work is stopped, what is blind is left alone, trips are acted on at once, and the money is what was foretold",
  async () => {
    const { services, keeper } = trusted;
    const { world } = keeper;
    const units = world.units.filter(({ name }) => TAKEN.test(name));
    const desks = units.filter(({ name }) => name.startsWith("desk"));
    const lab = units.filter(({ name }) => name.startsWith("sonar"));
    expect([desks.length, lab.length]).toEqual([9, 9]);
    await readMetrics(services, WORKER);
    const foretold = await forecast();
    await learnLikelyUse(services, WORKER);
    // Nobody starts a box of the lab again that was stopped: only desks are as in the weeks before.
    const promise = await monthNow(trusted, "team = draughting");

    const byId = new Map(units.map((unit) => [keyOf(unit), unit]));
    const startedAt = new Map<Unit, number>();
    const trippedAt = new Map<Unit, number>();
    let seen = keeper.now();
    let [trips, cutOff, actedOn] = [0, 0, 0];
    const end = keeper.now() + DAYS * 24 * HOUR;
    const habits = new Map(
      desks.map((unit) => [
        unit,
        lifeOf({ seed: world.seed, name: unit.name, habit: "desk", zone: ZONE, level: 1, from: keeper.now(), to: end }),
      ]),
    );
    /** By its habits a desk is off then, and its owner elsewhere. */
    const isAway = (unit: Unit, t: number) => habits.get(unit)?.findLast(({ at }) => at <= t)?.state !== "running";
    while (keeper.now() < end) {
      const last = keeper.now();
      keeper.stepTo(Math.min(end, nextLook(keeper.now())));
      const now = keeper.now();
      const before = new Map(units.map((unit) => [unit, stateOf(unit)]));
      for (const unit of desks) {
        const turn = (state: "running" | "stopped", note: string) => {
          change(unit, { at: now, state, level: state === "running" ? 1 : 0 });
          tell(world, unit, { at: now, type: state, note });
        };
        for (const { state } of habits.get(unit)?.filter(({ at }) => at > last && at <= now) ?? []) {
          if (state === "running" && !isUp(unit) && stateOf(unit) !== "stopping") turn("running", "by its owner");
          if (state === "stopped" && stateOf(unit) === "running") turn("stopped", "by its owner");
        }
        // Whoever sits down at a desk that is off starts it, and was cut off if it went off under half an hour ago.
        if (!isSignedIn(world.seed, unit, now) || isUp(unit) || stateOf(unit) === "stopping" || isAway(unit, now)) continue;
        const tripped = trippedAt.get(unit);
        if (tripped !== undefined && now - tripped <= 1800) cutOff++;
        turn("running", "by its owner");
      }
      await trusted.round();
      const news = (await alarmChanges(services.pool, { from: seen + 1, limit: 1000 })).filter(({ resourceId }) =>
        byId.has(resourceId),
      );
      seen = now;
      for (const { state, at, resourceId, samples } of news) {
        const unit = byId.get(resourceId) as Unit;
        if (state !== "tripped") continue;
        trips++;
        trippedAt.set(unit, at);
        // Somebody at work, a start of a moment ago, a window with a hole: none of them trips.
        expect(
          isSignedIn(world.seed, unit, at) && isUp(unit) && desks.includes(unit),
          `${unit.name} was stopped under somebody`,
        ).toBe(false);
        const settle = desks.includes(unit) ? 20 * 60 : 30 * 60;
        expect(at - (startedAt.get(unit) ?? 0), `${unit.name} was stopped while it settled`).toBeGreaterThanOrEqual(settle);
        for (const values of Object.values(samples ?? {}))
          expect(values.filter((value) => value === null).length).toBeLessThanOrEqual(values.length * 0.1);
      }
      for (const unit of units) {
        const was = before.get(unit) as string;
        const isOn = stateOf(unit) === "running" || stateOf(unit) === "starting";
        if (isOn && was !== "running" && was !== "starting") startedAt.set(unit, now);
        const tripped = trippedAt.get(unit);
        if (tripped !== undefined && tripped === now && !isOn) actedOn++;
        if (
          tripped !== undefined &&
          now - tripped >= 2 * STEP &&
          now - tripped < 3 * STEP &&
          (startedAt.get(unit) ?? 0) <= tripped
        )
          expect(isOn, `${unit.name} still runs two rounds after its trip`).toBe(false);
      }
    }
    expect(trips).toBeGreaterThan(100);
    expect(actedOn).toBe(trips);
    // The planted box that was forgotten long ago is found.
    expect((await alarmChanges(services.pool, { fleet: "lab", limit: 1000 })).some(({ state }) => state === "tripped")).toBe(
      true,
    );

    // Days of metrics are read by day, as a job does.
    await readMetrics(services, WORKER);
    await closeSpendDays(services, WORKER);
    const { what, told, ...span } = promise;
    const came = metered({ seed: world.seed, units: desks }, span);
    console.log(`idle, ${what}: ${told.toFixed(2)} told, ${came.toFixed(2)} came (${((told / came - 1) * 100).toFixed(1)} %)`);
    expect(Math.abs(told - came), what).toBeLessThan(came * 0.1);
    await measureSavings(services, WORKER);
    const { fleets } = await realisedView(services, DEMO_ACTOR, { fleet: null });
    const own = fleets.find(({ fleet }) => fleet === "desks");
    const realised = Number(own?.savedByIdle.replaceAll(/[^\d.-]/g, ""));
    const { p5, p50, p95 } = foretold.saved;
    console.log(
      `desks, ${DAYS} days: idle alarms were to save ${p50.toFixed(0)} (${p5.toFixed(0)} to ${p95.toFixed(0)}), and saved ${realised.toFixed(0)} on ${own?.days} whole days; ` +
        `${foretold.cutOff.p50.toFixed(1)} (${foretold.cutOff.p5.toFixed(1)} to ${foretold.cutOff.p95.toFixed(1)}) were to be cut off, and ${cutOff} were`,
    );
    expect(own?.isUnexplained).toBe(false);
    expect(cutOff).toBeGreaterThanOrEqual(Math.floor(foretold.cutOff.p5));
    expect(cutOff).toBeLessThanOrEqual(Math.ceil(foretold.cutOff.p95));
    expect(realised).toBeGreaterThanOrEqual(p5);
    expect(realised).toBeLessThanOrEqual(p95);
    // A rule that has worked for a month says what it said: its own effect is no evidence of it.
    const reopened = await forecast();
    console.log(`opened again they are to save ${reopened.saved.p50.toFixed(0)}`);
    expect(reopened.saved.p50).toBeGreaterThanOrEqual(p5 * 0.95);
    expect(reopened.saved.p50).toBeLessThanOrEqual(p95 * 1.05);
    // What was foretold each day is kept, from the same weekdays of the weeks before it: people here do as they did then.
    const { now: after } = await services.clock.read();
    const levers = (await leverDays(services.pool, { from: "2027-01-01", to: formatDate(Math.floor(after / 86_400)) })).filter(
      ({ lever }) => lever === "idle",
    );
    const within = levers.filter(({ saved, forecast }) => forecast && saved >= forecast.p5 && saved <= forecast.p95);
    const sums = levers.reduce(
      (sum, { saved, forecast }) => ({ saved: sum.saved + saved, p50: sum.p50 + (forecast?.p50 ?? 0n) }),
      {
        saved: 0n,
        p50: 0n,
      },
    );
    console.log(
      `idle, by day: ${within.length} of ${levers.length} days within what was foretold; ${(Number(sums.saved) / 2.628e15).toFixed(0)} saved, ${(Number(sums.p50) / 2.628e15).toFixed(0)} foretold`,
    );
    expect(levers.length).toBeGreaterThan(40);
    expect(levers.every(({ forecast }) => forecast !== null)).toBe(true);
    expect(within.length).toBeGreaterThanOrEqual(levers.length * 0.7);
    expect(Math.abs(Number(sums.saved - sums.p50))).toBeLessThan(Number(sums.p50) * 0.1);

    /** What the rule of the desks makes of the weeks before, as the workbench reckons it. */
    async function forecast() {
      const { pool } = services;
      const fleet = (await fleetList(pool)).find(({ name }) => name === "desks");
      const rules = fleet?.inForce?.idle as readonly IdleRule[];
      const samples = await fleetSamples(services, DEMO_ACTOR, {
        selector: fleet?.inForce?.select ?? "",
        metrics: [...new Set(rules.flatMap(metricsRead))],
      });
      const { firstEnd, stepS, count, knownFrom, resources } = samples.head;
      const span = { from: firstEnd - stepS, to: firstEnd + (count - 1) * stepS };
      const edges = weekEdges(ZONE, { from: knownFrom, to: span.to });
      const { history } = await priceBooks(pool);
      const listed = await resourceList(pool);
      const capabilities = new Map(
        (await trusted.services.pool.query("select name, capabilities from account")).rows.map((row) => [
          row.name,
          row.capabilities,
        ]),
      );
      const cardOf = cardReader(history.bookAt(keeper.now()), capabilities);
      const weeks = edges.length - 1;
      const saved = new Array<number>(weeks).fill(0);
      const cut = new Array<number>(weeks).fill(0);
      resources.forEach(({ id }, i) => {
        const card = cardOf(listed.find((one) => one.id === id) as (typeof listed)[number]);
        if (!card) throw new Error(`${id} has no price`);
        const perSecond =
          Number(
            costPerSecond(card, { state: "running", level: asLevel(1) }) -
              costPerSecond(card, { state: "stopped", level: asLevel(0) }),
          ) /
          (1e9 * 3600 * 730);
        const { offS, interruptions } = weeklyWorth(
          rules,
          { slots: slotsWithoutTrips(samples, i, [...new Set(rules.flatMap(metricsRead))]), hours: null },
          edges,
        );
        offS.forEach((seconds, w) => {
          saved[w] = (saved[w] as number) + seconds * perSecond;
          cut[w] = (cut[w] as number) + (interruptions[w] as number);
        });
      });
      const whole = (DAYS - 1) * 24 * HOUR;
      return { saved: spreadOver(saved, whole, 1), cutOff: spreadOver(cut, whole, 1) };
    }
  },
  within(400),
);

/** A quarter of an hour on while people come and go, an hour in between and by night, two at the weekend. */
function nextLook(now: number): number {
  const date = new Date(now * 1000);
  const hour = date.getUTCHours();
  if (date.getUTCDay() % 6 === 0) return now + 2 * HOUR;
  return now + ((hour >= 5 && hour < 9) || (hour >= 14 && hour < 19) ? STEP : HOUR);
}
