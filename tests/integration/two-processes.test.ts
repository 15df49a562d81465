import { afterAll, beforeAll, expect, test } from "vitest";
import { asLevel } from "@/core/hours";
import { DEMO_ACTOR, openServices, type Services, WORKER } from "@/services/admin";
import {
  addCommitment,
  addDiscount,
  burnPage,
  closeSpendDays,
  dropDiscount,
  importPrices,
  machineCost,
  overridePrice,
  priceBookView,
  spendNow,
  timeStrip,
  undoPrices,
} from "@/services/cost";
import { readClouds } from "@/services/inventory";
import { createFleet, fleetSummaries, keepDraft, loadPlan, openWorkbench, putInForce } from "@/services/plans";
import { placeHold, releaseHold, runRound } from "@/services/rounds";
import { discountList, saveChanges } from "@/store";
import { tell } from "../../standin/world/happen";
import { HOUR } from "../../standin/world/types";
import { within } from "../support/patience";
import { PLAN } from "../support/weeks/hours";
import { type Here, startHere } from "../support/weeks/standin-here";

/** One process makes changes; another has looked at everything before; a third, new each time, has kept nothing. */
let here: Here;
let maker: Services;
let looker: Services;
const START = Date.UTC(2027, 2, 16, 10) / 1000;
const open = () => openServices({ DATABASE_URL: here.databaseUrl, UMBRIK_CLOCK_URL: here.clockUrl });

beforeAll(async () => {
  here = await startHere(START);
  maker = here.services;
  await readClouds(maker, START);
  await loadPlan(maker, DEMO_ACTOR, { text: PLAN, inForce: ["archive-index", "desks-oslo"] });
  await runRound(maker, WORKER, "act");
  await closeSpendDays(maker, WORKER);
  looker = open();
}, within(120));
afterAll(async () => {
  await looker?.pool.end();
  await here?.close();
});

const QUERY = {
  filters: [] as string[],
  group: "region",
  sort: "perHour",
  isDescending: true,
  only: "all",
  opened: ["fjord-1"] as string[],
  offset: 0,
  limit: 500,
} as const;

/** All that is kept between looks, asked for. */
async function answers(services: Services) {
  const now = here.keeper.now();
  const past = now - 30 * HOUR;
  const id = await idOf("desk-osl-02");
  return {
    now: await burnPage(services, DEMO_ACTOR, { ...QUERY, at: null }),
    before: await burnPage(services, DEMO_ACTOR, { ...QUERY, at: null, view: "before" }),
    past: await burnPage(services, DEMO_ACTOR, { ...QUERY, at: past }),
    ahead: await burnPage(services, DEMO_ACTOR, { ...QUERY, at: now + 20 * HOUR }),
    strip: await timeStrip(services, DEMO_ACTOR),
    stripThen: await timeStrip(services, DEMO_ACTOR, { at: past }),
    spend: await spendNow(services, DEMO_ACTOR),
    fleets: await fleetSummaries(services, DEMO_ACTOR),
    machine: await machineCost(services, DEMO_ACTOR, { id, from: null, to: null }),
  };
}

async function idOf(name: string): Promise<string> {
  const { rows } = await maker.pool.query<{ id: string }>("select id from resource where name = $1", [name]);
  return rows[0]?.id ?? "";
}

async function keyOf(size: string): Promise<string> {
  const { rows } = await priceBookView(maker, DEMO_ACTOR);
  return (
    rows.find(
      ({ what, of: { item, region } }) =>
        item === "compute" && what.includes(size) && what.includes("firm") && region === "fjord-1",
    )?.key ?? ""
  );
}

const FILE = [
  "provider,region,item,size,os,purchase,class,zone,rate,cores_min,valid_from,currency",
  "norrhav,fjord-1,compute,lantern-8,,firm,,,3,0,2027-03-13,EUR",
].join("\n");

let holdId = 0;
let fileId = 0;
const CHANGES: readonly Readonly<{ name: string; make: () => Promise<unknown>; isNeutral?: boolean }>[] = [
  {
    name: "a price set by hand from a past day on",
    make: async () => overridePrice(maker, DEMO_ACTOR, { key: await keyOf("lantern-8"), rate: "2", fromDay: "2027-03-12" }),
  },
  {
    name: "that taken back",
    make: async () => overridePrice(maker, DEMO_ACTOR, { key: await keyOf("lantern-8"), rate: null, fromDay: "2027-03-14" }),
  },
  {
    name: "a file of prices",
    make: async () => {
      fileId = (await importPrices(maker, DEMO_ACTOR, { text: FILE })).importId ?? 0;
    },
  },
  { name: "that file taken back", make: () => undoPrices(maker, DEMO_ACTOR, fileId) },
  {
    name: "a discount",
    make: () =>
      addDiscount(maker, DEMO_ACTOR, {
        provider: "norrhav",
        item: "compute",
        size: "",
        purchase: "",
        percent: "7.5",
        from: "2027-03-01",
        to: "2027-04-30",
      }),
  },
  {
    name: "a discount taken away",
    make: async () => dropDiscount(maker, DEMO_ACTOR, (await discountList(maker.pool))[0]?.id ?? 0),
  },
  {
    name: "a commitment",
    make: () =>
      addCommitment(maker, DEMO_ACTOR, {
        provider: "norrhav",
        account: "",
        region: "fjord-1",
        size: "lantern-8",
        units: "9",
        fee_per_hour: "4.5",
        from: "2027-03-01",
        to: "2027-12-31",
      }),
  },
  { name: "days that are reckoned", make: () => closeSpendDays(maker, WORKER), isNeutral: true },
  {
    name: "a hold",
    make: async () => {
      const hold = await placeHold(maker, DEMO_ACTOR, {
        on: { resourceId: await idOf("desk-osl-02") },
        level: 0,
        until: START + 40 * HOUR,
        reason: "a reason",
      });
      holdId = hold.id;
    },
  },
  { name: "a hold that is released", make: () => releaseHold(maker, DEMO_ACTOR, holdId) },
  {
    name: "a plan put in force",
    make: async () => {
      const id = await createFleet(maker, DEMO_ACTOR, { name: "builds", select: "team = platform" });
      const { fleet } = await openWorkbench(maker, DEMO_ACTOR, id);
      const version = await keepDraft(maker, DEMO_ACTOR, {
        id,
        draft: { ...fleet.draft, hours: "trial-hours" },
        version: fleet.version,
      });
      await putInForce(maker, DEMO_ACTOR, { id, version, why: "nights", confirmedStops: 100 });
    },
  },
  {
    name: "hours that change under a fleet in force",
    make: async () => {
      const id = (await fleetSummaries(maker, DEMO_ACTOR)).find(({ name }) => name === "desks-oslo")?.id ?? 0;
      const { fleet, schedules } = await openWorkbench(maker, DEMO_ACTOR, id);
      const schedule = schedules.find(({ name }) => name === "desks-oslo");
      if (!schedule) throw new Error("no hours");
      const draft = { ...fleet.draft, schedule: { ...schedule, rows: [{ day: "workdays", spans: ["09:00-15:00"] }] } };
      const version = await keepDraft(maker, DEMO_ACTOR, { id, draft, version: fleet.version });
      await putInForce(maker, DEMO_ACTOR, { id, version, why: "fewer", confirmedStops: 100 });
    },
  },
  {
    name: "a round that stops and starts",
    make: async () => {
      await runRound(maker, WORKER, "act");
      here.keeper.stepTo(here.keeper.now() + HOUR);
      await runRound(maker, WORKER, "act");
    },
  },
  {
    name: "news of yesterday that comes late",
    make: async () => {
      const changes = [
        {
          n: 900_000,
          resourceId: await idOf("desk-osl-07"),
          at: START - 26 * HOUR,
          type: "stopped",
          state: "stopped",
          level: asLevel(0),
          note: "",
        },
      ] as const;
      await saveChanges(maker.pool, "skerry-desks", { changes, billedWhenHalted: false });
    },
  },
  {
    name: "a machine that vanishes and one that is born",
    make: async () => {
      const { world } = here.keeper;
      const build = world.units.find(({ name }) => name === "build-02");
      if (!build) throw new Error("no build-02");
      world.units.splice(world.units.indexOf(build), 1);
      const born = {
        ...build,
        id: "skerry-desks:norrhav-build-77",
        name: "build-77",
        pending: null,
        life: [{ at: here.keeper.now(), state: "running" as const, level: 1 }],
      };
      world.units.push(born);
      tell(world, born, { at: here.keeper.now(), type: "found" });
      await readClouds(maker, here.keeper.now());
    },
  },
  {
    name: "tags that change",
    make: async () => {
      const desk = here.keeper.world.units.find(({ name }) => name === "desk-osl-04");
      if (desk) desk.tags.team = "viewer";
      await readClouds(maker, here.keeper.now());
    },
  },
];

for (const { name, make, isNeutral = false } of CHANGES) {
  test(`after ${name} a process that had looked before answers like one that keeps nothing`, async () => {
    const before = await answers(looker);
    await make();
    const fresh = open();
    const [kept, anew] = [await answers(looker), await answers(fresh)];
    await fresh.pool.end();
    for (const part of Object.keys(anew) as (keyof typeof anew)[]) expect.soft(kept[part], part).toEqual(anew[part]);
    // What did not move anything would prove nothing; days are reckoned to what was shown before.
    if (isNeutral) expect(kept).toEqual(before);
    else expect(kept).not.toEqual(before);
  });
}
