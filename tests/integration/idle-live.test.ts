import { afterAll, beforeAll, expect, test } from "vitest";
import { formatDate } from "@/core/time";
import { DEMO_ACTOR, WORKER } from "@/services/admin";
import { followLeaveOn, pauseAlarms, resumeAlarms, setOwnersMail, viewLeaveOn } from "@/services/idle";
import { takeSamples } from "@/services/metrics";
import { makeWebhook, notifyOfEvents } from "@/services/notify";
import { holdList, releaseHold } from "@/services/rounds";
import { alarmChanges, alarmList, saveMetricDays } from "@/store";
import { change, tell } from "../../standin/world/happen";
import { isSignedIn } from "../../standin/world/metrics";
import type { Unit } from "../../standin/world/types";
import { within } from "../support/patience";
import { HOUR, startTrusted, type Trusted } from "../support/trusted";

/** Desks that are on from eight to eight; after half an hour without anybody they are warned of, ten minutes later put to sleep. */
const PLAN = `
umbrik: 1
schedules:
  - name: long
    zone: UTC
    rows: [{ day: daily, spans: ["06:00-21:00"] }]
fleets:
  - name: desks
    select: team = draughting and region = fjord-1 and name ~ desk-osl-0*
    hours: long
    idle:
      - match: all
        conditions:
          - { metric: sessions.active, statistic: max, op: "<", threshold: 1, window: 30 }
          - { metric: cpu, statistic: mean, op: "<", threshold: 8, window: 30 }
        warn: 10
        settle: 20
        action: hibernate
`;
const MORNING = Date.UTC(2027, 2, 16, 9, 1) / 1000;

let trusted: Trusted;
beforeAll(async () => {
  trusted = await startTrusted(PLAN, ["desks"], { at: MORNING, accounts: ["skerry-desks"] });
  await setOwnersMail(trusted.services, DEMO_ACTOR, { tag: "owner", domain: "skerrywick.example" });
}, within(60));
afterAll(() => trusted?.close());

/** Few enough that all of them may trip within an hour. */
const desks = () => trusted.desks().filter(({ name }) => name < "desk-osl-10");
const keyOf = ({ account, id }: Unit) => `${account}:${id}`;
const stateOf = (unit: Unit) => unit.life.at(-1)?.state;
const minutes = (n: number) => trusted.rounds(n, 60);
const alarmOf = async (unit: Unit) => (await alarmList(trusted.services.pool, { resourceId: keyOf(unit) }))[0];
const now = () => trusted.keeper.now();
const isThere = (unit: Unit, at = now()) => isSignedIn(trusted.keeper.world.seed, unit, at);
/** A desk that runs and at which nobody is, or nobody will be at an hour to come. */
const deskWithout = (at: number, besides: readonly Unit[] = []) =>
  desks().find((unit) => stateOf(unit) === "running" && !isThere(unit, at) && !besides.includes(unit)) as Unit;

test("who is at work is watched, who has left is warned, and ten minutes later the desk is put to sleep, with the samples in the journal", async () => {
  await minutes(12);
  for (const desk of desks())
    if (isThere(desk)) expect(await alarmOf(desk)).toMatchObject({ state: "watching", reason: { code: "in use" } });
  await makeWebhook(trusted.services, DEMO_ACTOR, "https://hooks.example/umbrik");
  // The afternoon: most go home.
  trusted.keeper.stepTo(Date.UTC(2027, 2, 16, 16, 0, 20) / 1000);
  await minutes(1);
  for (let i = 0; i < 120 && !desks().some((unit) => stateOf(unit) === "hibernated"); i++) await minutes(1);
  const asleep = desks().find((unit) => stateOf(unit) === "hibernated") as Unit;
  expect(isThere(asleep)).toBe(false);
  const told = await alarmChanges(trusted.services.pool, { resourceId: keyOf(asleep), limit: 10 });
  expect(told.map(({ state }) => state).slice(0, 3)).toContain("tripped");
  const tripped = told.find(({ state }) => state === "tripped");
  const warned = told.find(({ state }) => state === "warned");
  expect(tripped && warned && tripped.at - warned.at).toBeGreaterThanOrEqual(600);
  expect(tripped?.samples?.["sessions.active"]).toEqual([0, 0, 0, 0, 0, 0]);
  expect(Math.max(...((tripped?.samples?.cpu ?? []) as number[]))).toBeLessThan(8);
  await notifyOfEvents(trusted.services, WORKER);
  const { rows: mails } = await trusted.services.pool.query<{ subject: string; address: string }>(
    "select subject, address from mail where kind = 'idle' and subject like $1 order by id",
    [`${asleep.name}%`],
  );
  expect(mails[0]?.subject).toMatch(/is idle: it is hibernated at 2027-03-16 \d\d:\d\d Oslo unless you leave it on/);
  expect(mails[0]?.address).toBe(`${asleep.tags.owner}@skerrywick.example`);
  const { rows: events } = await trusted.services.pool.query<{ body: string }>(
    "select body from webhook_delivery where type = 'umbrik.idle.warned' and body like $1",
    [`%${asleep.name}%`],
  );
  expect(JSON.parse(events[0]?.body ?? "{}").data).toMatchObject({ name: asleep.name, action: "hibernate", fleet: "desks" });
  // In force until the hours rise: tomorrow at six.
  const { current } = await holdList(trusted.services, DEMO_ACTOR);
  const trip = current.find(({ resourceId }) => resourceId === keyOf(asleep));
  expect(trip).toMatchObject({ kind: "trip", offAction: "hibernate", level: 0, to: Date.UTC(2027, 2, 17, 6) / 1000 });
});

test("the link of a warning leaves a machine on for two hours, once; a look at it changes nothing, and a forged one says so", async () => {
  const { services } = trusted;
  for (let i = 0; i < 60 && !(await anyWarned()); i++) await minutes(1);
  const desk = (await anyWarned()) as Unit;
  await notifyOfEvents(services, WORKER);
  const { rows } = await services.pool.query<{ text: string }>(
    "select text from mail where kind = 'idle' and subject like $1 order by id desc limit 1",
    [`${desk.name} is idle%`],
  );
  const token = /token=(\S+)/.exec(rows[0]?.text ?? "")?.[1] ?? "";
  const view = await viewLeaveOn(services, token);
  expect(view).toMatchObject({ ok: true, name: desk.name, isOn: true, isDone: false, zone: "Europe/Oslo" });
  expect(await viewLeaveOn(services, token)).toMatchObject({ isDone: false });
  expect(await viewLeaveOn(services, `${token.slice(0, -3)}abc`)).toEqual({ ok: false, reason: "This is no link of ours." });
  const pressedAt = now();
  expect(await followLeaveOn(services, token)).toMatchObject({ ok: true, isDone: true, until: pressedAt + 2 * HOUR });
  await minutes(5);
  expect(await followLeaveOn(services, token)).toMatchObject({ ok: true, isDone: true, until: pressedAt + 2 * HOUR });
  expect(
    (await holdList(services, DEMO_ACTOR)).current.filter(({ resourceId, level }) => resourceId === keyOf(desk) && level > 0),
  ).toHaveLength(1);
  await minutes(12);
  expect(stateOf(desk)).toBe("running");
  expect(await alarmOf(desk)).toMatchObject({ state: "watching" });
  expect((await alarmChanges(services.pool, { resourceId: keyOf(desk), limit: 5 })).map(({ state }) => state)).toContain(
    "left on",
  );
  const [hold] = (await holdList(services, DEMO_ACTOR)).current.filter(
    ({ resourceId, level }) => resourceId === keyOf(desk) && level > 0,
  );
  await releaseHold(services, DEMO_ACTOR, hold?.id ?? 0);
  expect(await viewLeaveOn(services, token)).toMatchObject({ ok: false, reason: expect.stringContaining("was used") });
  trusted.keeper.stepTo(now() + 25 * HOUR);
  expect(await viewLeaveOn(services, token)).toMatchObject({ ok: false, reason: expect.stringContaining("expired") });
});

async function anyWarned(): Promise<Unit | null> {
  const warned = (await alarmList(trusted.services.pool)).find(({ state }) => state === "warned");
  return warned ? (trusted.keeper.world.units.find((unit) => keyOf(unit) === warned.resourceId) ?? null) : null;
}

test("a source that falls silent makes alarms blind and trips nothing, and a worker that slept does not act on what is old", async () => {
  const { services, keeper } = trusted;
  // The next morning, everybody there; then the provider's metrics go silent while all leave.
  keeper.stepTo(Date.UTC(2027, 2, 18, 9, 0, 20) / 1000);
  await minutes(8);
  const running = desks().filter((unit) => stateOf(unit) === "running");
  expect(running).toHaveLength(9);
  trusted.faults.rule(({ path }) => (path.includes("/metrics") ? { kind: "answer", status: 503, body: "{}" } : undefined));
  keeper.stepTo(Date.UTC(2027, 2, 18, 18, 0, 20) / 1000);
  await trusted.rounds(4, 300);
  const states = await alarmList(services.pool);
  expect(new Set(running.map((unit) => states.find(({ resourceId }) => resourceId === keyOf(unit))?.state))).toEqual(
    new Set(["blind"]),
  );
  expect(states.find(({ reason }) => reason.code === "silent")).toBeDefined();
  expect(running.filter((unit) => stateOf(unit) !== "running")).toEqual([]);
  trusted.faults.rule(() => undefined);
  // What came in late is history: the first look at it warns at most, of what is so now.
  await minutes(1);
  expect((await alarmList(services.pool)).filter(({ state }) => state === "tripped")).toEqual([]);
  await minutes(3);
  expect(running.every((unit) => stateOf(unit) === "running")).toBe(true);
});

test("a pause stands until its end with its reason; after it the alarm looks again, and a start by hand ends a trip", async () => {
  const { services, keeper } = trusted;
  keeper.stepTo(Date.UTC(2027, 2, 19, 17, 0, 20) / 1000);
  await minutes(2);
  const desk = deskWithout(now());
  const until = now() + HOUR;
  await expect(pauseAlarms(services, DEMO_ACTOR, { on: { resourceId: keyOf(desk) }, until, reason: " " })).rejects.toThrow(
    "a word of why",
  );
  await expect(
    pauseAlarms(services, DEMO_ACTOR, { on: { resourceId: keyOf(desk) }, until: now() - 1, reason: "x" }),
  ).rejects.toThrow("ahead of now");
  const pause = await pauseAlarms(services, DEMO_ACTOR, { on: { resourceId: keyOf(desk) }, until, reason: "a long print" });
  expect((await pauseAlarms(services, DEMO_ACTOR, { on: { resourceId: keyOf(desk) }, until, reason: "a long print" })).id).toBe(
    pause.id,
  );
  await minutes(50);
  expect(await alarmOf(desk)).toMatchObject({ state: "paused", reason: { code: "paused", reason: "a long print" } });
  expect(stateOf(desk)).toBe("running");
  await resumeAlarms(services, DEMO_ACTOR, pause.id);
  for (let i = 0; i < 30 && stateOf(desk) === "running"; i++) await minutes(1);
  for (let i = 0; i < 5 && stateOf(desk) !== "hibernated"; i++) await minutes(1);
  expect(stateOf(desk)).toBe("hibernated");
  // Its owner starts it at the provider's own console: the trip is over, and it settles before it is looked at.
  const at = keeper.now();
  change(desk, { at, state: "running", level: 1 });
  tell(keeper.world, desk, { at, type: "running", note: "from its own console" });
  await minutes(3);
  expect(
    (await holdList(services, DEMO_ACTOR)).current.filter(
      ({ resourceId, kind }) => resourceId === keyOf(desk) && kind === "trip",
    ),
  ).toEqual([]);
  expect(await alarmOf(desk)).toMatchObject({ state: "blind" });
  await minutes(15);
  expect(stateOf(desk)).toBe("running");
});

test(
  "per cent that become shares make alarms blind, with both figures; with the old unit again they warn",
  async () => {
    const { services, keeper } = trusted;
    keeper.stepTo(Date.UTC(2027, 2, 22, 9, 0, 20) / 1000);
    await minutes(4);
    await saveMetricDays(
      services.pool,
      desks().flatMap((unit) => daysBefore(8).map((day) => usualDay(unit, day))),
    );
    trusted.faults.rule(({ path }) => (path.includes("/metrics") ? { kind: "answer", status: 503, body: "{}" } : undefined));
    const running = desks().filter((unit) => stateOf(unit) === "running");
    const push = async (cpu: number) => {
      for (let i = 0; i < 8; i++) {
        await minutes(5);
        const samples = running.flatMap(({ account, id }) => [
          { resourceId: `${account}:${id}`, metric: "cpu", at: now(), stepS: 300, value: cpu },
          { resourceId: `${account}:${id}`, metric: "sessions.active", at: now(), stepS: 300, value: 0 },
        ]);
        expect((await takeSamples(services, WORKER, { samples, now: now() })).refused).toBe(0);
      }
      await minutes(1);
    };
    await push(0.02);
    for (const desk of running) {
      const alarm = await alarmOf(desk);
      expect(alarm).toMatchObject({ state: "blind" });
      expect(alarm?.reason).toEqual({ code: "unlike usual", metric: "cpu", side: "below", value: 0.02, usual: 1.5 });
    }
    expect(running.every((unit) => stateOf(unit) === "running")).toBe(true);
    await push(2);
    for (const desk of running) expect((await alarmOf(desk))?.state).toMatch(/^(warned|tripped)$/);
    trusted.faults.rule(() => undefined);
  },
  within(60),
);

const daysBefore = (n: number) => Array.from({ length: n }, (_, i) => formatDate(Math.floor(now() / 86_400) - 1 - i));
/** A day whose lowest sample is 1.5. */
const usualDay = (unit: Unit, day: string) => ({
  resourceId: keyOf(unit),
  metric: "cpu",
  day,
  stepS: 300,
  samples: Array.from({ length: 288 }, (_, i) => 1.5 + (i % 40)),
});
