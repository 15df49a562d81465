import { afterEach, beforeEach, expect, test } from "vitest";
import type { FleetDraft } from "@/core/plan";
import { DEMO_ACTOR, type Services } from "@/services/admin";
import { burnCsv } from "@/services/cost";
import { createFleet, keepDraft, openWorkbench, previewInForce, putInForce } from "@/services/plans";
import { previewReport } from "@/services/report";
import { approveStops, journalPage, openRound, runRound } from "@/services/rounds";
import { openActionList, recordActions, startRound } from "@/store";
import { get, post, startWorld, type TestWorld } from "../support/world";

let world: TestWorld;
let services: Services;
beforeEach(async () => {
  world = await startWorld();
  services = world.services;
});
afterEach(() => world.close());

const DESKS = "team = draughting and region = fjord-1";
const OFFICE: FleetDraft["schedule"] = {
  name: "oslo-office",
  zone: "Europe/Oslo",
  outside: "off",
  rows: [{ day: "workdays", spans: ["07:30-18:00"] }],
};

async function act(): Promise<number> {
  const id = await runRound(services, DEMO_ACTOR, "act");
  if (id === null) throw new Error("busy");
  return id;
}

/** Saves a fleet with the Oslo office hours and puts it in force. */
async function officeFleet(select = DESKS, more: Partial<FleetDraft> = {}): Promise<number> {
  await act();
  const id = await createFleet(services, DEMO_ACTOR, { name: "oslo-desks", select });
  const { fleet } = await openWorkbench(services, DEMO_ACTOR, id);
  const draft = { ...fleet.draft, hours: "oslo-office", schedule: OFFICE, ...more };
  const version = await keepDraft(services, DEMO_ACTOR, { id, draft, version: fleet.version });
  const { stops } = await previewInForce(services, DEMO_ACTOR, draft);
  await putInForce(services, DEMO_ACTOR, { id, version, why: "nobody works at six", confirmedStops: stops.length });
  return id;
}

type Listed = { resources: { id: string; name: string; state: string; tags: Record<string, string>; region: string }[] };
async function osloDesks(): Promise<Listed["resources"]> {
  const { resources } = await get<Listed>(`${world.standin.url}/norrhav/v1/resources`, "demo-key-desks");
  return resources.filter(
    ({ tags, region, name }) => tags.team === "draughting" && region === "fjord-1" && name.startsWith("desk"),
  );
}
const count = (list: readonly { state: string }[], state: string) => list.filter((one) => one.state === state).length;

test("the first round stops just the machines that the preview named, the next ones find nothing to do, and the journal says why for each", async () => {
  const runningBefore = (await osloDesks()).filter(({ state }) => state === "running").map(({ name }) => name);
  await officeFleet();
  const id = await act();
  const { round, decisions } = await openRound(services, DEMO_ACTOR, { id, offset: 0 });
  expect(round.sent).toBe(runningBefore.length);
  expect(
    decisions
      .filter(({ verdict }) => verdict === "act")
      .map(({ name }) => name)
      .sort(),
  ).toEqual(runningBefore.sort());
  expect(decisions).toHaveLength(round.resources);
  expect(decisions.every(({ why, chain }) => why.length > 0 && chain.length > 0)).toBe(true);
  expect(count(await osloDesks(), "stopping")).toBe(runningBefore.length);

  await world.wait(120);
  const next = await openRound(services, DEMO_ACTOR, { id: await act(), offset: 0 });
  expect(next.round.sent).toBe(0);
  expect(next.decisions.filter(({ fleet }) => fleet === "oslo-desks").every(({ verdict }) => verdict === "as due")).toBe(true);
  expect(await openActionList(services.pool)).toEqual([]);
  expect(count(await osloDesks(), "running")).toBe(0);
});

test("nothing outside the fleet is touched", async () => {
  const others = async () =>
    (await get<Listed>(`${world.standin.url}/norrhav/v1/resources`, "demo-key-desks")).resources.filter(
      ({ region }) => region !== "fjord-1",
    );
  const before = (await others()).map(({ id, state }) => `${id} ${state}`);
  await officeFleet();
  await act();
  expect((await others()).map(({ id, state }) => `${id} ${state}`)).toEqual(before);
});

test("the fleet follows its hours over the clock change: 07:30 in Oslo is an hour earlier in UTC from Monday 29 March on", async () => {
  await officeFleet();
  await act();
  await world.stepTo(Date.UTC(2027, 2, 26, 6, 29) / 1000);
  await act();
  expect(count(await osloDesks(), "running") + count(await osloDesks(), "starting")).toBe(0);
  await world.stepTo(Date.UTC(2027, 2, 26, 6, 30) / 1000);
  await act();
  expect(count(await osloDesks(), "starting")).toBeGreaterThan(20);
  await world.stepTo(Date.UTC(2027, 2, 26, 20) / 1000);
  await act();
  await world.stepTo(Date.UTC(2027, 2, 29, 5, 29) / 1000);
  await act();
  expect(count(await osloDesks(), "starting")).toBe(0);
  await world.stepTo(Date.UTC(2027, 2, 29, 5, 30) / 1000);
  await act();
  expect(count(await osloDesks(), "starting")).toBeGreaterThan(20);
});

test("a rehearsal decides everything and sends nothing", async () => {
  await officeFleet();
  const before = (await osloDesks()).map(({ state }) => state);
  const id = await runRound(services, DEMO_ACTOR, "rehearse");
  const { round, decisions } = await openRound(services, DEMO_ACTOR, { id: id as number, offset: 0 });
  expect(round.sent).toBeGreaterThan(10);
  expect(decisions.filter(({ verdict }) => verdict === "act")).toHaveLength(round.sent);
  expect((await osloDesks()).map(({ state }) => state)).toEqual(before);
  expect(await openActionList(services.pool)).toEqual([]);
});

test("two workers at once make one round, not two", async () => {
  await officeFleet();
  const [one, other] = await Promise.all([runRound(services, DEMO_ACTOR, "act"), runRound(services, DEMO_ACTOR, "act")]);
  expect([one, other].filter((id) => id === null)).toHaveLength(1);
  const { rows } = await services.pool.query("select resource_id from action group by resource_id having count(*) > 1");
  expect(rows).toEqual([]);
});

test("an action that was recorded when the process died is sent by the next round, once", async () => {
  await officeFleet();
  const { now } = await services.clock.read();
  const dead = await startRound(services.pool, { mode: "act", askedBy: "worker", at: now });
  const resourceId = "skerry-desks:norrhav-desk-osl-07";
  await recordActions(
    services.pool,
    [
      {
        key: "left behind",
        resourceId,
        account: "skerry-desks",
        verb: "stop",
        level: 0 as never,
        due: null,
        isUnforeseen: false,
      },
    ],
    { roundId: dead, at: now, deadline: now + 7200 },
  );
  await act();
  const { rows } = await services.pool.query("select key, status, attempts from action where resource_id = $1", [resourceId]);
  expect(rows).toEqual([{ key: "left behind", status: "sent", attempts: 1 }]);
});

test("an account that does not answer is left alone and named, and the others go on", async () => {
  await officeFleet();
  await post(`${world.standin.url}/outages`, { account: "skerry-survey", seconds: 600, kind: "error" });
  const { round, decisions } = await openRound(services, DEMO_ACTOR, { id: await act(), offset: 0 });
  expect(Object.keys(round.unread)).toEqual(["skerry-survey"]);
  expect(round.sent).toBeGreaterThan(10);
  expect(
    decisions
      .filter(({ account }) => account === "skerry-survey")
      .every(({ verdict, why }) => verdict === "left" && why.includes("not read")),
  ).toBe(true);
  const { rows } = await services.pool.query(
    "select count(*)::integer as n from resource where account = 'skerry-survey' and state = 'gone'",
  );
  expect(rows[0]).toEqual({ n: 0 });
});

test("a start that fails for lack of capacity is tried again with growing waits until it goes through", async () => {
  await officeFleet();
  await act();
  await world.wait(300);
  await act();
  await world.stepTo(Date.UTC(2027, 2, 11, 6, 30) / 1000);
  await post(`${world.standin.url}/outages`, { account: "skerry-desks", seconds: 400, kind: "no capacity" });
  const first = await openRound(services, DEMO_ACTOR, { id: await act(), offset: 0 });
  expect(first.round.sent).toBe(0);
  expect(first.decisions.find(({ verdict }) => verdict === "act")?.lastAnswer).toContain("to be had");
  await world.wait(30);
  const second = await openRound(services, DEMO_ACTOR, { id: await act(), offset: 0 });
  expect(second.decisions.find(({ fleet }) => fleet === "oslo-desks")).toMatchObject({
    verdict: "waiting",
    why: expect.stringContaining("to be had"),
  });
  for (let i = 0; i < 3; i++) {
    await world.wait(100);
    await act();
  }
  // The hour has come: who reads a mail or a table hears of it, too.
  const scope = "team = draughting and region = fjord-1";
  const mail = await previewReport(services, DEMO_ACTOR, { name: "Morning", zone: "UTC", scope });
  expect(mail.subject).toMatch(/Morning: \d+ running, \d+ missing/);
  expect(mail.text).toMatch(/\d+ should be on and are not: desk-osl-\d+ \(.*to be had/);
  const query = { group: "none", sort: "name", isDescending: false, only: "all", opened: [], offset: 0 } as const;
  const { text } = await burnCsv(services, DEMO_ACTOR, { ...query, filters: [scope], limit: 100, at: null });
  const absent = text.split("\r\n").filter((line) => line.includes("should be on and is not"));
  expect(absent.length).toBe(Number(/(\d+) missing/.exec(mail.subject)?.[1]));
  expect(absent[0]).toMatch(/,1,"?should be on and is not: .*to be had/);
  for (let i = 0; i < 30; i++) {
    await world.wait(120);
    await act();
  }
  expect(count(await osloDesks(), "running")).toBe(28);
});

test("a key without the right is refused, said so, and not asked again every minute", async () => {
  await services.pool.query("update account set key = 'demo-key-learn-no-stop' where name = 'skerry-learn'");
  await officeFleet("team = training");
  const { decisions } = await openRound(services, DEMO_ACTOR, { id: await act(), offset: 0 });
  const refused = decisions.filter(({ actionStatus }) => actionStatus === "refused");
  expect(refused.length).toBeGreaterThan(0);
  expect(refused[0]?.lastAnswer).toBe("this key has no right to stop");
  await world.wait(60);
  const next = await openRound(services, DEMO_ACTOR, { id: await act(), offset: 0 });
  expect(next.decisions.find(({ resourceId }) => resourceId === refused[0]?.resourceId)).toMatchObject({
    verdict: "waiting",
    why: expect.stringContaining("no right to stop"),
  });
});

test("stops that nobody could foresee are held, the others go on, and letting go is for the round and its very set", async () => {
  // One of its own that is foreseen by being confirmed, and hours that change under many machines at once.
  await officeFleet("kind = machine");
  await services.pool.query("delete from let_go");
  const { round, decisions } = await openRound(services, DEMO_ACTOR, { id: await act(), offset: 0 });
  // Two that were shut down from inside are released: that takes nothing from anybody.
  expect(decisions.filter(({ verdict }) => verdict === "act").every(({ actual }) => actual === 0)).toBe(true);
  expect(round.sent).toBe(2);
  expect(round.braked).toBeGreaterThan(100);
  expect(decisions.find(({ verdict }) => verdict === "braked")?.why).toContain("nobody could foresee");

  await expect(approveStops(services, DEMO_ACTOR, { round: round.id, stops: round.braked - 1 })).rejects.toThrow(
    "other stops are held",
  );
  await expect(approveStops(services, DEMO_ACTOR, { round: round.id - 1, stops: 1 })).rejects.toThrow("holds nothing back");
  await approveStops(services, DEMO_ACTOR, { round: round.id, stops: round.braked });
  const after = await openRound(services, DEMO_ACTOR, { id: await act(), offset: 0 });
  expect(after.round.braked).toBe(0);
  expect(after.round.sent).toBe(round.braked);
  expect(after.decisions.filter(({ name }) => name.startsWith("harbour")).every(({ verdict }) => verdict === "left")).toBe(true);
});

test("an evening whose edge was known an hour before is never held, however many it stops", async () => {
  await officeFleet("kind = machine");
  await world.stepTo(Date.UTC(2027, 2, 12, 6, 30) / 1000);
  await act();
  await world.wait(900);
  await act();
  await world.stepTo(Date.UTC(2027, 2, 12, 16, 59, 30) / 1000);
  await act();
  await world.stepTo(Date.UTC(2027, 2, 12, 17, 0, 10) / 1000);
  const { round } = await openRound(services, DEMO_ACTOR, { id: await act(), offset: 0 });
  expect(round.braked).toBe(0);
  expect(round.sent).toBeGreaterThan(150);
});

test("quiet rounds cost one row each and fold into one line of the journal", async () => {
  await act();
  await world.wait(60);
  await act();
  const { rows: before } = await services.pool.query("select count(*)::integer as n from decision");
  for (let i = 0; i < 5; i++) {
    await world.wait(1);
    await act();
  }
  const { rows: after } = await services.pool.query("select count(*)::integer as n from decision");
  expect(after).toEqual(before);
  const { entries } = await journalPage(services, DEMO_ACTOR, { before: null, at: null });
  expect(entries[0]).toMatchObject({ kind: "quiet" });
  const last = entries[0];
  const opened = await openRound(services, DEMO_ACTOR, { id: last?.kind === "quiet" ? last.last.id : 0, offset: 0 });
  expect(opened.decisions).toHaveLength(opened.round.resources);
});
