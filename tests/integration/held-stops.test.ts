import { afterEach, beforeEach, expect, test } from "vitest";
import { parsePlanFile } from "@/core/plan";
import { DEMO_ACTOR, WORKER } from "@/services/admin";
import { setOwnersMail } from "@/services/idle";
import { notifyOfEvents } from "@/services/notify";
import { keepDraft, openWorkbench, putInForce } from "@/services/plans";
import { approveStops, attention, declineStops, holdList, openRound } from "@/services/rounds";
import { heldStops, overridesFrom } from "@/store";
import { isSignedIn } from "../../standin/world/metrics";
import type { Unit } from "../../standin/world/types";
import { within } from "../support/patience";
import { HOUR, startTrusted, type Trusted } from "../support/trusted";

/** More than ten desks that an idle alarm trips on at once: nobody foresaw that, and a person is asked. */
const PLAN = `
umbrik: 1
schedules:
  - { name: always, zone: UTC, rows: [{ day: daily, spans: ["00:00-24:00"] }] }
fleets:
  - name: desks
    select: team = draughting and region = fjord-1
    hours: always
    idle:
      - match: all
        conditions:
          - { metric: sessions.active, statistic: max, op: "<", threshold: 1, window: 30 }
          - { metric: cpu, statistic: mean, op: "<", threshold: 8, window: 30 }
        settle: 20
        action: hibernate
`;
const WITHOUT = PLAN.slice(0, PLAN.indexOf("    idle:"));
const EVENING = Date.UTC(2027, 2, 16, 20, 1) / 1000;
const STEP_S = 300;

let trusted: Trusted;
beforeEach(async () => {
  trusted = await startTrusted(WITHOUT, ["desks"], { at: EVENING, accounts: ["skerry-desks"] });
  await setOwnersMail(trusted.services, DEMO_ACTOR, { tag: "owner", domain: "skerrywick.example" });
}, within(60));
afterEach(() => trusted?.close());

const keyOf = ({ account, id }: Unit) => `${account}:${id}`;
const isUp = (unit: Unit) => unit.life.at(-1)?.state === "running";
const up = () => trusted.desks().filter(isUp);
const isThere = (unit: Unit) => isSignedIn(trusted.keeper.world.seed, unit, trusted.keeper.now());
const last = async () => (await openRound(trusted.services, DEMO_ACTOR, { id: await trusted.round(), offset: 0 })).round;
const tripped = async () =>
  (await overridesFrom(trusted.services.pool, trusted.keeper.now())).filter(({ kind }) => kind === "trip");
const mails = async () => {
  await notifyOfEvents(trusted.services, WORKER);
  const { rows } = await trusted.services.pool.query<{ subject: string }>("select subject from mail where kind = 'idle'");
  return rows.map(({ subject }) => subject);
};

/** Everybody has gone home when the rule comes into force: all desks run, and are about to trip at once. */
async function rulesAtNight(): Promise<readonly Unit[]> {
  const { services } = trusted;
  await trusted.rounds(8, STEP_S);
  const before = up();
  // Everybody has gone home when the rule comes into force.
  const file = parsePlanFile(PLAN);
  const idle = (file.ok && file.value.fleets[0]?.idle) || [];
  const { fleet } = await openWorkbench(services, DEMO_ACTOR, 1);
  const draft = { ...fleet.draft, idle: [...idle] };
  const version = await keepDraft(services, DEMO_ACTOR, { id: 1, draft, version: fleet.version });
  await putInForce(services, DEMO_ACTOR, { id: 1, version, why: "nobody is there", confirmedStops: 0 });
  return before;
}

/** To the next round that holds something. */
async function untilHeld() {
  for (let i = 0; i < 60; i++) {
    await trusted.rounds(1, STEP_S);
    const round = await last();
    if (round.braked > 10) return round;
  }
  throw new Error("nothing was held");
}

test(
  "idle trips that are held stay held over a day of rounds, a desk that is used leaves them, and only a yes stops them",
  async () => {
    const { services } = trusted;
    const before = await rulesAtNight();
    const round = await untilHeld();
    expect(before.length).toBeGreaterThan(10);
    expect((await heldStops(services.pool)).size).toBe(round.braked);
    expect((await attention(services, DEMO_ACTOR)).find(({ kind }) => kind === "held")).toMatchObject({
      stops: round.braked,
    });
    expect((await holdList(services, DEMO_ACTOR)).held).toHaveLength(round.braked);
    // The owners hear that it runs on, and nobody that it is being stopped.
    const told = await mails();
    expect(told.filter((subject) => subject.includes("runs on until a person"))).toHaveLength(round.braked);
    expect(told.filter((subject) => subject.includes("is being"))).toEqual([]);
    const used = new Set<string>();
    for (let i = 0; i < 24 * 6; i++) {
      await trusted.rounds(1, 600);
      for (const unit of trusted.desks()) if (isThere(unit)) used.add(keyOf(unit));
      // Who was at one and left it again is a trip by itself, as on any day.
      for (const unit of before) if (!used.has(keyOf(unit))) expect(isUp(unit), `${unit.name} after ${i} rounds`).toBe(true);
    }
    expect(used.size).toBeGreaterThan(3);
    expect(before.length - used.size).toBeGreaterThan(3);
    // At noon of the next day nobody sits at a desk that has a trip.
    trusted.keeper.stepTo(EVENING + 39 * HOUR);
    await trusted.rounds(12, STEP_S);
    const trips = new Set((await tripped()).map(({ resourceId }) => resourceId));
    for (const unit of trusted.desks()) if (isUp(unit) && isThere(unit)) expect(trips.has(keyOf(unit)), unit.name).toBe(false);
  },
  within(240),
);

test(
  "a no keeps just those on for a day, and a yes lets just those go, told to the owners when it is done",
  async () => {
    const { services } = trusted;
    await rulesAtNight();
    const refused = await untilHeld();
    await declineStops(services, DEMO_ACTOR, { round: refused.id, stops: refused.braked });
    await expect(declineStops(services, DEMO_ACTOR, { round: refused.id, stops: refused.braked + 1 })).rejects.toThrow(
      "other stops",
    );
    expect((await heldStops(services.pool)).size).toBe(0);
    await trusted.rounds(2, STEP_S);
    const after = await last();
    expect(after.braked).toBe(0);
    const kept = (await overridesFrom(services.pool, trusted.keeper.now())).filter(({ reason }) =>
      reason.includes("was refused"),
    );
    expect(kept).toHaveLength(refused.braked);
    expect(kept.every(({ kind, level }) => kind === "hold" && level > 0)).toBe(true);
    expect(up().length).toBeGreaterThanOrEqual(refused.braked);
    trusted.keeper.stepTo(trusted.keeper.now() + 24 * HOUR);
    const asked = await untilHeld();
    const ids = [...(await heldStops(services.pool)).keys()];
    expect(ids).toHaveLength(asked.braked);
    await approveStops(services, DEMO_ACTOR, { round: asked.id, stops: asked.braked });
    await trusted.rounds(3, 60);
    const stopped = trusted
      .desks()
      .filter((unit) => !isUp(unit))
      .map(keyOf);
    expect(ids.filter((id) => !stopped.includes(id))).toEqual([]);
    expect((await mails()).filter((subject) => subject.includes("is being hibernated"))).toHaveLength(ids.length);
  },
  within(240),
);
