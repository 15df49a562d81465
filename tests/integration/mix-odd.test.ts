import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, expect, test } from "vitest";
import { DEMO_ACTOR, WORKER } from "@/services/admin";
import { mixStory } from "@/services/mix";
import { makeWebhook, notifyOfEvents } from "@/services/notify";
import { fleetSummaries, keepDraft, openWorkbench, putInForce } from "@/services/plans";
import { attention } from "@/services/rounds";
import { openMixOrders, recordMixOrder } from "@/store";
import { tell } from "../../standin/world/happen";
import { present, type Unit } from "../../standin/world/types";
import { groupOf, membersOf, startKept, unitsOf } from "../support/mix/kept-fleet";
import { wantedAt } from "../support/mix/kept-plan";
import { within } from "../support/patience";
import { HOUR, type Trusted } from "../support/trusted";

/** What goes wrong around a mix: a worker that dies, members that fall ill or are at work, clouds without any, plans that change. */
const START = Date.UTC(2027, 2, 16, 7) / 1000;
const GROUP = "skerry-survey:norrhav-viewer-tiles-north";

let trusted: Trusted;
beforeAll(async () => {
  trusted = await startKept(START);
  await trusted.rounds(8);
}, within(120));
afterAll(() => trusted?.close());

const members = () => membersOf(trusted.keeper.world);
const group = () => groupOf(trusted.keeper.world);
const there = () => unitsOf(members());
const story = () => mixStory(trusted.services, DEMO_ACTOR, { fleet: "tiles", hours: 48 });

/** The provider takes one back, with its notice. */
function evict(unit: Unit): void {
  const { world } = trusted.keeper;
  const at = world.doneUntil;
  tell(world, unit, { at, type: "eviction notice" });
  unit.pending = null;
  unit.life.push({ at, state: "gone", level: 0 });
  tell(world, unit, { at, type: "evicted" });
}

test("an order that was recorded by a worker that died is sent once, by its own key, whoever leads next", async () => {
  const made = trusted.keeper.world.membersMade ?? 0;
  const lost = members().find(({ purchase, size }) => purchase === "spot" && size === "sloop-4") as Unit;
  evict(lost);
  const { rows } = await trusted.services.pool.query<{ id: number }>("select max(id) as id from round");
  const [size = "", zone = ""] = [lost.size, lost.zone];
  await recordMixOrder(trusted.services.pool, {
    key: randomUUID(),
    roundId: rows[0]?.id ?? 0,
    fleet: "tiles",
    groupId: GROUP,
    account: "skerry-survey",
    kind: "order",
    part: "spot",
    pool: `${size} ${zone}`,
    size,
    zone,
    units: 1,
    keepsDisks: false,
    gaps: [],
    memberId: null,
    cause: "next in order",
    why: "a worker recorded it and died",
    recordedAt: trusted.keeper.now(),
  });
  expect(await openMixOrders(trusted.services.pool)).toHaveLength(1);
  await trusted.rounds(4);
  expect(await openMixOrders(trusted.services.pool)).toEqual([]);
  expect(trusted.keeper.world.membersMade).toBe(made + 1);
  expect(there()).toBe(wantedAt(trusted.keeper.now()));
});

test("where the answer to an order is lost it is asked for again by its key, nothing else is meanwhile, and no machine is there that nobody knows", async () => {
  const { keeper, faults } = trusted;
  const made = keeper.world.membersMade ?? 0;
  evict(members().find(({ purchase, size }) => purchase === "spot" && size === "sloop-4") as Unit);
  faults.rule(({ path }) => (path.endsWith("/order") ? { kind: "deaf" } : undefined));
  // The clouds may have none just then.
  for (let i = 0; i < 30 && keeper.world.membersMade === made; i++) await trusted.rounds(1);
  await trusted.rounds(3);
  expect(keeper.world.membersMade).toBe(made + 1);
  expect(await openMixOrders(trusted.services.pool)).toHaveLength(1);
  faults.rule(() => undefined);
  await trusted.rounds(3);
  expect(keeper.world.membersMade).toBe(made + 1);
  expect(await openMixOrders(trusted.services.pool)).toEqual([]);
  expect(there()).toBe(wantedAt(keeper.now()));
  expect((await story()).kept[0]?.missingUnits).toBe(0);
});

test("that one will be taken back is told as a CloudEvent, once", async () => {
  await makeWebhook(trusted.services, DEMO_ACTOR, "https://hooks.example/mix");
  await notifyOfEvents(trusted.services, WORKER);
  const told = async () =>
    (
      await trusted.services.pool.query<{ body: string }>(
        "select body from webhook_delivery where type = 'umbrik.mix.notice' order by id",
      )
    ).rows.map(({ body }) => JSON.parse(body) as { subject: string; data: { fleet: string } });
  const before = (await told()).length;
  const unit = members().find(({ purchase }) => purchase === "spot") as Unit;
  tell(trusted.keeper.world, unit, { at: trusted.keeper.world.doneUntil, type: "eviction notice" });
  await trusted.rounds(2);
  for (let i = 0; i < 2; i++) await notifyOfEvents(trusted.services, WORKER);
  expect((await told()).slice(before)).toMatchObject([{ subject: `skerry-survey:${unit.id}`, data: { fleet: "tiles" } }]);
});

test("a member that has been unhealthy for ten minutes is replaced, at most three a day", async () => {
  const fallsIll = (unit: Unit) => {
    unit.unhealthySince = trusted.keeper.world.doneUntil;
    tell(trusted.keeper.world, unit, { at: trusted.keeper.world.doneUntil, type: "unhealthy" });
  };
  const ill = members()
    .filter(({ purchase, size }) => purchase === "spot" && size === "sloop-4")
    .slice(0, 4);
  expect(ill.length).toBe(4);
  for (const unit of ill) fallsIll(unit);
  await trusted.rounds(8);
  expect(ill.filter((unit) => present(unit).state !== "gone")).toHaveLength(4);
  const needs = async () =>
    (await attention(trusted.services, DEMO_ACTOR)).flatMap((line) => (line.kind === "unhealthy" ? [line] : []));
  expect(await needs()).toEqual([]);
  await trusted.rounds(8);
  // The fourth waits for a person, or for the next day; and a person is told.
  const left = ill.filter((unit) => present(unit).state !== "gone");
  expect(left.length).toBeGreaterThanOrEqual(1);
  expect(await needs()).toMatchObject([{ count: left.length, care: "replace" }]);
  await notifyOfEvents(trusted.services, WORKER);
  const { rows } = await trusted.services.pool.query<{ body: string }>(
    "select body from webhook_delivery where type = 'umbrik.attention' order by id desc limit 1",
  );
  expect(rows[0]?.body).toContain(`${left.map(({ name }) => name).join(", ")}. At most 3 are replaced within a day.`);
  expect((await story()).lines.filter(({ cause }) => cause === "unhealthy")).toHaveLength(3);
  expect(there()).toBe(wantedAt(trusted.keeper.now()));
});

test("while a cloud has none, full price stands in, and goes when spot is up again", async () => {
  const { keeper } = trusted;
  const spot = members().filter(({ purchase }) => purchase === "spot");
  for (const unit of spot.slice(0, 2)) evict(unit);
  // Nothing of any kind for ten minutes, and nothing of spot for forty.
  keeper.world.outages.push({ account: "skerry-survey", kind: "no capacity", until: keeper.now() + 600 });
  await trusted.rounds(9);
  const { kept, lines } = await story();
  expect(kept[0]?.missingUnits).toBeGreaterThanOrEqual(2);
  expect(lines.find(({ closedAt }) => closedAt === null)?.refusals).toBeGreaterThan(0);
  await trusted.rounds(30);
  expect(there()).toBe(wantedAt(keeper.now()));
  expect((await story()).kept[0]?.missingUnits).toBe(0);
});

test("members that a listing leaves out are replaced, and are the mix's again when they are back: then it has too many and gives them up", async () => {
  const { keeper } = trusted;
  const hidden = members()
    .filter(({ purchase }) => purchase === "spot")
    .slice(0, 2);
  const lost = unitsOf(hidden);
  keeper.world.units = keeper.world.units.filter((unit) => !hidden.includes(unit));
  await trusted.rounds(10);
  expect(there()).toBe(wantedAt(keeper.now()));
  keeper.world.units.push(...hidden);
  expect(there()).toBe(wantedAt(keeper.now()) + lost);
  await trusted.rounds(4);
  expect(there()).toBe(wantedAt(keeper.now()));
});

test("while an account is not read nothing of it counts as gone, and nothing is asked for", async () => {
  const { keeper } = trusted;
  const made = keeper.world.membersMade;
  keeper.world.outages.push({ account: "skerry-survey", kind: "error", until: keeper.now() + 900 });
  await trusted.rounds(10);
  expect(keeper.world.membersMade).toBe(made);
  expect((await story()).kept[0]?.missingUnits).toBe(0);
  await trusted.rounds(8);
  expect(there()).toBe(wantedAt(keeper.now()));
});

test("members that are marked busy are not taken when fewer are wanted", async () => {
  const { keeper } = trusted;
  for (const unit of members()) if (unit.purchase === "spot") unit.tags["umbrik-busy"] = "job 7";
  keeper.stepTo(Math.floor(START / (24 * HOUR)) * 24 * HOUR + 20 * HOUR + 60);
  await trusted.rounds(4);
  expect(there()).toBeGreaterThan(wantedAt(keeper.now()));
  for (const unit of members()) delete unit.tags["umbrik-busy"];
  await trusted.rounds(4);
  expect(there()).toBe(wantedAt(keeper.now()));
});

test(
  "a plan that drops its mix has the group up by itself first, and then gives the members back",
  async () => {
    const { services } = trusted;
    const id = (await fleetSummaries(services, DEMO_ACTOR)).find(({ name }) => name === "tiles")?.id ?? 0;
    const { fleet } = await openWorkbench(services, DEMO_ACTOR, id);
    const { mix: _, ...draft } = fleet.draft;
    const version = await keepDraft(services, DEMO_ACTOR, { id, draft, version: fleet.version });
    await putInForce(services, DEMO_ACTOR, { id, version, why: "no mix", confirmedStops: 100 });
    for (let i = 0; i < 12; i++) {
      await trusted.rounds(1);
      expect(there() + present(group()).level).toBeGreaterThanOrEqual(wantedAt(trusted.keeper.now()));
    }
    expect(members()).toEqual([]);
    expect(present(group()).level).toBe(wantedAt(trusted.keeper.now()));
  },
  within(60),
);
