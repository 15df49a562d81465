import { afterAll, beforeAll, expect, test } from "vitest";
import type { FleetDraft } from "@/core/plan";
import { DEMO_ACTOR, WORKER } from "@/services/admin";
import { closeSpendDays, measureSavings, realisedView, timeStrip } from "@/services/cost";
import { keepDraft, previewInForce, putInForce } from "@/services/plans";
import { previewReport } from "@/services/report";
import { openRound } from "@/services/rounds";
import { type Fleet, fleetList, gapStories, openMixOrders } from "@/store";
import { linesOfDay } from "../../standin/world/meter";
import { DAY, present } from "../../standin/world/types";
import { groupOf, membersOf, startKept, unitsOf } from "../support/mix/kept-fleet";
import { wantedAt } from "../support/mix/kept-plan";
import { within } from "../support/patience";
import { HOUR, type Trusted } from "../support/trusted";

/** A group of the stand-in that rounds keep at its mix over two days: members come and go, and every one of them is told of. */
const START = Date.UTC(2027, 2, 16, 5) / 1000;

let trusted: Trusted;
beforeAll(async () => {
  trusted = await startKept(START);
}, within(120));
afterAll(() => trusted?.close());

const group = () => groupOf(trusted.keeper.world);
const members = () => membersOf(trusted.keeper.world);

test("the group gets its firm and its spot machines, and gives up what it had of itself as they come up", async () => {
  await trusted.rounds(8);
  const firm = members().filter(({ purchase }) => purchase === "firm");
  expect(firm).toHaveLength(3);
  expect(new Set(firm.map(({ zone }) => zone)).size).toBe(3);
  expect(unitsOf(members())).toBe(wantedAt(trusted.keeper.now()));
  expect(present(group()).level).toBe(0);
  // The journal says what each round asked for.
  const { rows } = await trusted.services.pool.query<{ id: number }>("select distinct round_id as id from mix_order order by 1");
  const { round, orders } = await openRound(trusted.services, DEMO_ACTOR, { id: rows[0]?.id ?? 0, offset: 0 });
  expect(round.sent).toBeGreaterThanOrEqual(orders.filter(({ status }) => status === "accepted").length);
  expect(orders.slice(0, 3)).toMatchObject(Array(3).fill({ kind: "order", part: "firm", status: "accepted" }));
});

test(
  "over two days evictions are made good, machines follow the hours, and each eviction has its story",
  async () => {
    const { keeper, services } = trusted;
    const from = keeper.now();
    const ahead = await timeStrip(services, DEMO_ACTOR);
    // To the end of a UTC day: what is closed later was kept to its end.
    const end = Math.ceil((from + 40 * HOUR) / DAY) * DAY;
    let short = 0;
    while (keeper.now() < end) {
      const isWhole = unitsOf(members()) === wantedAt(keeper.now());
      if (!isWhole) short++;
      keeper.stepTo(keeper.now() + (isWhole ? 300 : 60));
      await trusted.round();
      const spot = members().filter(({ purchase }) => purchase === "spot");
      expect(unitsOf(spot), new Date(keeper.now() * 1000).toISOString()).toBeLessThanOrEqual(wantedAt(keeper.now()) - 3);
    }
    // What was to come by day and by night is what came: members follow the hours of their group.
    const soFar = (t: number) =>
      keeper.world.units
        .flatMap((unit) => linesOfDay(keeper.world.seed, unit, { day: Math.floor(t / DAY) * DAY, until: t }))
        .reduce((sum, { cost }) => sum + Number(cost), 0);
    const day = Math.floor(from / DAY) * DAY;
    const came = (hour: number) => soFar(day + (hour + 1) * HOUR) - soFar(day + hour * HOUR);
    const foretold = (hour: number) => (ahead.micros[(day + hour * HOUR - ahead.from) / HOUR] ?? 0) / 1e6;
    const [wasMore, wouldBeMore] = [came(11) - came(22), foretold(11) - foretold(22)];
    console.log(
      `mix kept: an hour of the day costs ${wasMore.toFixed(4)} more than one of the night, ${wouldBeMore.toFixed(4)} foretold`,
    );
    expect(wasMore).toBeGreaterThan(0.2);
    expect(Math.abs(wouldBeMore - wasMore)).toBeLessThan(0.25 * wasMore);
    const { events } = keeper.world;
    const evicted = events.filter(({ type, at }) => type === "evicted" && at > from);
    const stories = await gapStories(services.pool, ["skerry-survey:norrhav-viewer-tiles-north"], {
      from,
      to: end + 60,
      most: 500,
    });
    console.log(
      `mix kept: ${evicted.length} evictions in two days, ${stories.length} stories, ${short} looks at fewer than wanted`,
    );
    expect(evicted.length).toBeGreaterThan(1);
    for (const { resource, at } of evicted.filter((one) => one.at < end - 2 * HOUR)) {
      const story = stories.find(({ memberId }) => memberId === `skerry-survey:${resource}`);
      expect(story, resource).toMatchObject({ cause: "evicted", since: at });
      const notice = events.find((one) => one.resource === resource && one.type === "eviction notice");
      expect(story?.noticedAt).toBe(notice?.at ?? null);
      // Filled, or called off because the evening wanted no more.
      if (story?.filledBy) expect(story.ranAt).toBeGreaterThan(at);
      else expect(story?.closedAt).not.toBeNull();
    }
    // Every machine that the provider made was asked for once.
    const { rows } = await services.pool.query<{ n: number; members: number }>(
      "select count(*)::integer as n, count(distinct member_id)::integer as members from mix_order where kind = 'order' and status = 'accepted'",
    );
    expect(rows[0]).toEqual({ n: keeper.world.membersMade, members: keeper.world.membersMade });
    expect(await openMixOrders(services.pool)).toEqual([]);
  },
  within(400),
);

test("what a closed day was paid is what the meter says of group and members, and the mix has its part of what was saved", async () => {
  const { keeper, services } = trusted;
  keeper.stepTo(Math.ceil(keeper.now() / DAY) * DAY + 4 * HOUR);
  await trusted.round();
  await closeSpendDays(services, WORKER);
  await measureSavings(services, WORKER);
  const view = await realisedView(services, DEMO_ACTOR, { fleet: null });
  const own = view.fleets.find(({ fleet }) => fleet === "tiles");
  expect(own?.lever).toBe("hours, mix");
  const days = view.series.map(({ day }) => Date.parse(`${day}T00:00:00Z`) / 1000);
  expect(days.length).toBeGreaterThanOrEqual(1);
  const metered = days
    .flatMap((day) => keeper.world.units.flatMap((unit) => linesOfDay(keeper.world.seed, unit, { day, until: day + 2 * DAY })))
    .reduce((sum, { cost }) => sum + Number(cost), 0);
  console.log(
    `mix kept: ${own?.paid} paid by what was computed, ${metered.toFixed(2)} by the meter; ${own?.saved} saved, ${own?.savedByMix} of it by the mix; ` +
      `within its forecast on ${own?.mixWithin?.days} of ${own?.mixWithin?.of} days; ${JSON.stringify(own?.causes)}; ${JSON.stringify(view.series)}`,
  );
  expect(Math.abs(Number(own?.paid) - metered)).toBeLessThan(0.02);
  expect(own?.isUnexplained).toBe(false);
  expect(own?.mixWithin?.of).toBe(days.length);
  for (const { mix } of view.series) {
    expect(mix?.saved).toBeGreaterThan(0);
    // Prices of four weeks spread it; what happened lies near it on any day.
    expect(mix?.saved).toBeGreaterThan((mix?.low ?? 0) * 0.9);
    expect(mix?.saved).toBeLessThan((mix?.high ?? 0) * 1.1);
  }
  // The daily mail says the same of the last day.
  const { text } = await previewReport(services, DEMO_ACTOR, { name: "Evening", zone: "Europe/Oslo", scope: "" });
  const last = view.series.at(-1)?.mix;
  expect(text).toContain(
    `Mixes saved ${last?.saved.toFixed(2)} EUR yesterday; ${last?.low.toFixed(2)} to ${last?.high.toFixed(2)} was foretold.`,
  );
  expect(text).toMatch(/\d+ at spot price: [\d.]+ EUR an hour, [\d.]+ at full price, [\d.]+ less\./);
});

test("what is said of a mix before it is in force is what rounds then ask for", async () => {
  const { services, keeper } = trusted;
  await trusted.rounds(30);
  const plan = (await fleetList(services.pool))[0] as Fleet;
  const preview = async (draft: FleetDraft) => (await previewInForce(services, DEMO_ACTOR, draft)).firstMembers;
  const asItIs = await preview(plan.draft);
  const before = members();
  expect(asItIs).toMatchObject({ orders: [], givenBack: [], stays: before.length, plain: 0, plainGoing: 0 });
  const { mix } = plan.draft;
  const draft = { ...plan.draft, mix: mix && { ...mix, firm: 5 } };
  const said = await preview(draft);
  const wanted = wantedAt(keeper.now());
  expect(said).toMatchObject({ wanted, stays: before.length - (said?.givenBack.length ?? 0) });
  expect(said?.orders).toMatchObject([{ part: "firm", pool: null, machines: Math.min(5, wanted) - 3 }]);
  expect(said?.givenBack.length).toBeGreaterThan(0);
  const version = await keepDraft(services, DEMO_ACTOR, { id: plan.id, version: plan.version, draft });
  await putInForce(services, DEMO_ACTOR, { id: plan.id, version, why: "more firm", confirmedStops: 0 });
  await trusted.round();
  const names = new Set(before.map(({ name }) => name));
  const came = members().filter(({ name }) => !names.has(name));
  const went = before.filter((unit) => present(unit).state === "gone").map(({ name }) => name);
  expect(came).toHaveLength(said?.orders[0]?.machines ?? -1);
  expect(came.every(({ purchase }) => purchase === "firm")).toBe(true);
  expect(went.toSorted()).toEqual([...(said?.givenBack ?? [])].toSorted());
  expect((await preview(draft))?.perHourNow).toBeCloseTo(said?.perHourThen ?? 0, 6);
});
