import { afterAll, beforeAll, expect, test } from "vitest";
import { DEMO_ACTOR, WORKER } from "@/services/admin";
import { loadPlan } from "@/services/plans";
import { approveStops, attention, believeListing, openRound, placeHold, runRound } from "@/services/rounds";
import { resourceList } from "@/store";
import { change, tell } from "../../standin/world/happen";
import type { Unit } from "../../standin/world/types";
import { type Chance, chanceOf } from "../support/chance";
import type { Fault } from "../support/faults";
import { within } from "../support/patience";
import { HOUR, startTrusted, type Trusted } from "../support/trusted";

/**
 * A simulated month with random faults, holds, starts by hand, guards and changes of plans, and what must hold in it whatever
 * happens. The seed is printed; a failing one repeats with UMBRIK_SEED.
 */
const SEED = Number(process.env.UMBRIK_SEED ?? 7);
const DAYS = 30;
/** So long a person's start is kept. */
const GRACE_S = 2 * HOUR;
/** When something happens and is looked at: at every edge, and in between. */
const HOURS = [7, 9, 18, 21];
/** A Monday after the world begins: before that nothing in it moves. */
const START = Date.UTC(2027, 2, 15, 6, 30) / 1000;
/** Offices close at six, until somebody changes that. */
const planUntil = (hour: number) => `
umbrik: 1
schedules:
  - name: office
    zone: UTC
    rows: [{ day: workdays, spans: ["07:00-${hour}:00"] }]
  - name: lab
    zone: UTC
    rows: [{ day: daily, spans: ["09:00-21:00"] }]
fleets:
  - { name: desks, select: "team = draughting and region = fjord-1", hours: office }
  - { name: sonar, select: "team = sonar-lab and region = fjord-1", hours: lab, enforce: edges }
`;

let trusted: Trusted;
beforeAll(async () => {
  trusted = await startTrusted(planUntil(18), ["desks", "sonar"], { at: START });
}, within(60));
afterAll(async () => {
  await trusted?.close();
});

const keyOf = ({ account, id }: Unit) => `${account}:${id}`;
const stateOf = (unit: Unit) => unit.life.at(-1)?.state ?? "";
/** When the hours of the offices were changed, and to what. */
const edits = [{ at: 0, until: 18 }];
const isOffice = (t: number) => {
  const day = new Date(t * 1000);
  const hour = day.getUTCHours();
  return day.getUTCDay() % 6 !== 0 && hour >= 7 && hour < (edits.findLast(({ at }) => at <= t)?.until ?? 0);
};
const isLab = (t: number) => {
  const hour = new Date(t * 1000).getUTCHours();
  return hour >= 9 && hour < 21;
};

const FAULTS: readonly Fault[] = [
  { kind: "answer", status: 429, body: "{}" },
  { kind: "answer", status: 502, body: "<html>" },
  { kind: "answer", status: 500, body: "\u0000" },
  { kind: "deaf" },
  { kind: "swallow" },
  { kind: "edit", edit: (body) => ({ ...body, resources: [], events: [], next: null, isMore: false }) },
];

/** For the next hour some of one account's requests go wrong in one way. */
function misfortune(chance: Chance): void {
  const account = chance.of(["skerry-desks", "skerry-survey"]);
  const fault = chance.of(FAULTS);
  trusted.faults.rule((passing) => {
    if (passing.account !== account || chance.int(0, 2) > 0) return undefined;
    // What is edited is a listing or a feed, what is swallowed or unheard an action; an answer may be to anything.
    if (fault.kind === "edit") return passing.kind === "resources" ? fault : undefined;
    if (fault.kind !== "answer" && passing.kind !== "act") return undefined;
    return fault;
  });
}

test("a month of misfortunes: nothing guarded, untagged, held or due is ever stopped, edges are acted on, and the journal knows of every change", {
  timeout: within(600),
}, async () => {
  console.log(`seed ${SEED}`);
  const chance = chanceOf(SEED);
  const { keeper, services } = trusted;
  const { world } = keeper;
  const desks = trusted.desks();
  const lab = world.units.filter(
    ({ kind, tags, region }) => kind === "machine" && tags.team === "sonar-lab" && region === "fjord-1",
  );
  const own = new Set([...desks, ...lab].map(({ id }) => id));
  const guarded = desks.slice(0, 2);
  for (const unit of guarded) unit.tags["umbrik-guard"] = "";
  await runRound(services, WORKER, "act");
  const holds: { id: string; from: number; to: number; level: number }[] = [];
  const byHand: { id: string; at: number }[] = [];
  const wrong: string[] = [];
  let seenEvents = world.events.length;
  let judged = 0;

  /** Every change since the last look that was no person's and no provider's, against what it must not be. */
  const judge = () => {
    for (const event of world.events.slice(seenEvents)) {
      const unit = world.units.find(({ id }) => id === event.resource);
      if (!unit || (event.type !== "stopping" && event.type !== "starting")) continue;
      if (byHand.some(({ id, at }) => id === unit.id && at === event.at)) continue;
      const at = `${event.type} ${unit.name} at ${new Date(event.at * 1000).toISOString()}`;
      judged++;
      if (!own.has(unit.id)) wrong.push(`in no fleet: ${at}`);
      if (guarded.includes(unit)) wrong.push(`guarded: ${at}`);
      const isDue = desks.includes(unit) ? isOffice(event.at) : isLab(event.at);
      const hold = holds.findLast(({ id, from, to }) => id === unit.id && from <= event.at && event.at < to);
      const due = hold ? hold.level > 0 : isDue;
      const started = byHand.findLast(({ id, at: began }) => id === unit.id && began < event.at);
      const isKept = desks.includes(unit) && started !== undefined && event.at < started.at + GRACE_S && hold?.level !== 0;
      if (event.type === "stopping" && isKept) wrong.push(`within the grace of a start by hand: ${at}`);
      if ((event.type === "starting") !== due) wrong.push(`against what is due (${due ? "on" : "off"}): ${at}`);
    }
    seenEvents = world.events.length;
  };

  /** Where nothing goes wrong, whatever fell due since the last look is acted on by the second round: what is not is late. */
  const lateNow = async () => {
    const at = keeper.now();
    const { rows } = await services.pool.query<{ id: string }>(
      "select resource_id as id from action where status in ('recorded', 'sent', 'refused') and recorded_at > to_timestamp($1)",
      [at - HOUR / 2],
    );
    const asked = new Set(rows.map(({ id }) => id));
    for (const unit of desks) {
      // What a person started runs on for two hours.
      if (byHand.some(({ id, at: started }) => id === unit.id && started > at - GRACE_S)) continue;
      if (guarded.includes(unit) || asked.has(keyOf(unit)) || holds.some(({ id, to }) => id === unit.id && to > at - HOUR))
        continue;
      if (isOffice(at) !== ["running", "starting"].includes(stateOf(unit)) && stateOf(unit) !== "stopping")
        wrong.push(`late: ${unit.name} is ${stateOf(unit)} at ${new Date(at * 1000).toISOString()}`);
    }
  };

  const end = START + DAYS * 24 * HOUR;
  let quietHours = 0;
  for (let hour = Math.ceil(keeper.now() / HOUR) * HOUR; hour < end; hour += HOUR) {
    if (!HOURS.includes((hour / HOUR) % 24)) continue;
    const isUnlucky = chance.int(0, 5) === 0;
    quietHours = isUnlucky ? 0 : quietHours + 1;
    if (isUnlucky) misfortune(chance);
    else trusted.faults.rule(() => undefined);
    keeper.stepTo(hour + chance.int(1, 20));
    judge();
    if (chance.int(0, 9) === 0) {
      const unit = chance.of([...desks, ...lab]);
      const level = chance.int(0, 1);
      const now = keeper.now();
      const to = now + chance.int(1, 9) * HOUR;
      // A guarded one cannot be held.
      await placeHold(services, DEMO_ACTOR, { on: { resourceId: keyOf(unit) }, level, until: to, reason: "a reason" }).then(
        () => holds.push({ id: unit.id, from: now, to, level }),
        () => {},
      );
    }
    if (chance.int(0, 11) === 0) {
      const until = chance.of([17, 18, 20]);
      await loadPlan(services, DEMO_ACTOR, { text: planUntil(until), inForce: ["desks", "sonar"] });
      edits.push({ at: keeper.now(), until });
    }
    if (chance.int(0, 7) === 0) {
      const unit = chance.of([...desks, ...lab]);
      if (stateOf(unit) === "stopped") {
        const at = keeper.now();
        change(unit, { at, state: "running", level: 1 });
        tell(world, unit, { at, type: "starting" });
        byHand.push({ id: unit.id, at });
      }
    }
    // At the edge and a minute on; once more where somebody had to say yes.
    for (let round = 0, rounds = 2; round < rounds; round++) {
      const id = await runRound(services, WORKER, "act");
      const { round: done } = await openRound(services, DEMO_ACTOR, { id: id ?? 0, offset: 0 });
      if (done.braked > 0 && rounds === 2) rounds = 3;
      if (done.braked > 0) await approveStops(services, DEMO_ACTOR, { round: done.id, stops: done.braked });
      for (const line of await attention(services, DEMO_ACTOR))
        if (line.kind === "doubted" && line.doubt.needsPerson) {
          // A person looks, and does not believe an empty listing.
          await expect(believeListing(services, DEMO_ACTOR, { account: line.account, since: 1 })).rejects.toThrow();
        }
      keeper.stepTo(keeper.now() + 61);
      judge();
    }
    if (quietHours > 0) await lateNow();
  }
  for (let i = 0; i < 20; i++) {
    await runRound(services, WORKER, "act");
    keeper.stepTo(keeper.now() + 200);
    judge();
  }
  expect(judged).toBeGreaterThan(500);
  expect(edits.length, "plans were changed meanwhile").toBeGreaterThan(5);
  expect(wrong).toEqual([]);
  // When all answers again, everything that follows its hours at every round is where they want it.
  const now = keeper.now();
  const held = new Set(holds.filter(({ to }) => to > now).map(({ id }) => id));
  const { rows: refused } = await services.pool.query<{ id: string }>(
    "select resource_id as id from action where status in ('sent', 'recorded') and last_answer like '%to be had%'",
  );
  const waiting = new Set(refused.map(({ id }) => id));
  const late = desks.filter(
    (unit) =>
      !guarded.includes(unit) &&
      !held.has(unit.id) &&
      !waiting.has(keyOf(unit)) &&
      isOffice(now) !== ["running", "starting"].includes(stateOf(unit)),
  );
  expect(late.map(({ name }) => name)).toEqual([]);
  // Nothing of a listing that was cut came to be gone.
  const known = new Set((await resourceList(services.pool)).map(({ id }) => id));
  expect([...desks, ...lab].filter((unit) => !known.has(keyOf(unit)))).toEqual([]);
  // The journal and the provider agree: every change that was no person's has an action that was sent for it.
  const { rows: sent } = await services.pool.query<{ id: string; verb: string; n: number }>(
    "select resource_id as id, verb, count(*)::integer as n from action where sent_at is not null group by 1, 2",
  );
  for (const unit of [...desks, ...lab]) {
    for (const [type, verbs] of [
      ["stopping", ["stop", "hibernate"]],
      ["starting", ["start"]],
    ] as const) {
      const told = world.events.filter(
        (event) =>
          event.resource === unit.id &&
          event.type === type &&
          event.at >= START &&
          !byHand.some(({ id, at }) => id === unit.id && at === event.at),
      ).length;
      const asked = sent
        .filter(({ id, verb }) => id === keyOf(unit) && (verbs as readonly string[]).includes(verb))
        .reduce((n, row) => n + row.n, 0);
      expect(told, `${unit.name} ${type}`).toBeLessThanOrEqual(asked);
    }
  }
});
