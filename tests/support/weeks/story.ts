import { resourceKey } from "@/core/plan";
import { DEMO_ACTOR, WORKER } from "@/services/admin";
import { addCommitment, addDiscount, closeSpendDays, measureSavings, overridePrice, priceBookView } from "@/services/cost";
import { readClouds } from "@/services/inventory";
import { keepDraft, loadPlan, openWorkbench, putInForce } from "@/services/plans";
import { placeHold } from "@/services/rounds";
import { pullUsage } from "@/services/usage";
import { fleetList } from "@/store";
import { tell } from "../../../standin/world/happen";
import { DAY, HOUR, type LooseThing, type Unit } from "../../../standin/world/types";
import { carryOut, type Verb } from "../../../standin/world/verbs";
import type { Plans, SlowHold } from "./ahead";
import { PLAN, rules } from "./hours";
import type { Facts, SlowCommitment } from "./ledger";
import { roundWithPerson } from "./look-after";
import { type Here, startHere } from "./standin-here";

export const utc = (month: number, day: number, hour = 0, minute = 0) => Date.UTC(2027, month - 1, day, hour, minute) / 1000;
export const START = utc(3, 16);
export const END = utc(4, 6, 0, 30);
const STEP = HOUR;

/** Three weeks in the life of nine fleets, with everything that goes wrong in them, and what a slow ledger needs to know of it. */
export type Story = Here &
  Readonly<{
    facts: () => Facts;
    plans: () => Plans;
    /** Lets the weeks go on to an instant, a round every hour, at half past, and reads the clouds there. */
    goTo: (to: number) => Promise<void>;
    /** Reckons the days that are over, as the worker does at night. */
    settle: () => Promise<void>;
  }>;

type Happening = Readonly<{ at: number; happens: () => Promise<void> | void }>;

export async function startStory(): Promise<Story> {
  const here = await startHere(START);
  const { services, keeper } = here;
  const { world } = keeper;
  const ownSizes = new Map(world.units.map((unit) => [unit, unit.kind === "machine" ? 1 : unit.target]));
  const vanished: { unit: Unit; at: number; back?: number }[] = [];
  const vanishedLoose: { thing: LooseThing; at: number }[] = [];
  const handPrices: { size: string; rate: number; from: number; to: number }[] = [];
  const discounts: { provider: string; item: string; percent: number; from: number; to: number }[] = [];
  const holds: SlowHold[] = [];
  const ofDesks: SlowCommitment = {
    account: "skerry-desks",
    region: "fjord-1",
    size: "lantern-8",
    units: 10,
    fee: 6.8,
    from: utc(3, 1),
    to: utc(12, 31) + DAY,
  };
  const ofSurvey: SlowCommitment = {
    account: "skerry-survey",
    region: "fjord-1",
    size: "ketch-8",
    units: 6,
    fee: 1.314,
    from: utc(1, 1),
    to: utc(12, 31) + DAY,
  };
  const ofAny: SlowCommitment = {
    account: "",
    region: "fjord-1",
    size: "lantern-8",
    units: 8,
    fee: 5.1,
    from: utc(3, 19),
    to: utc(12, 31) + DAY,
  };
  const commitments = [ofSurvey, ofDesks];
  let osloHours = rules("18:00");

  const unit = (name: string) => {
    const found = world.units.find((one) => one.name === name);
    if (!found) throw new Error(`no unit ${name}`);
    return found;
  };
  const remove = (one: Unit) => world.units.splice(world.units.indexOf(one), 1);
  const person = (verb: Verb, name: string) => carryOut(world, unit(name), { verb, level: null, now: keeper.now() });
  const commit = ({ account, region, size, units, fee, from, to }: SlowCommitment) =>
    addCommitment(services, DEMO_ACTOR, {
      provider: "norrhav",
      account,
      region,
      size,
      units: String(units),
      fee_per_hour: String(fee),
      from: new Date(from * 1000).toISOString().slice(0, 10),
      to: new Date((to - DAY) * 1000).toISOString().slice(0, 10),
    });
  const priceKey = async () => {
    const { rows } = await priceBookView(services, DEMO_ACTOR);
    const row = rows.find(
      ({ what, of: { item, region } }) =>
        item === "compute" && region === "tasman-2" && what.includes("heron-8") && what.includes("firm"),
    );
    if (!row) throw new Error("no price of heron-8");
    return row.key;
  };

  const happenings: Happening[] = [
    { at: utc(3, 17, 6), happens: () => hold("archive-index-01", 12, 6 * HOUR) },
    { at: utc(3, 17, 8), happens: () => person("start", "sonar-01") },
    { at: utc(3, 18, 10), happens: () => person("stop", "desk-osl-03") },
    {
      at: utc(3, 19, 10),
      happens: () => {
        const like = unit("build-01");
        const born: Unit = {
          ...like,
          id: "norrhav-build-99",
          name: "build-99",
          tags: { ...like.tags, team: "draughting" },
          size: "lantern-8",
          os: "windows",
          memoryGib: 56,
          account: "skerry-desks",
          pending: null,
          life: [{ at: keeper.now(), state: "running", level: 1 }],
        };
        world.units.push(born);
        ownSizes.set(born, 1);
        tell(world, born, { at: keeper.now(), type: "found" });
      },
    },
    {
      at: utc(3, 19, 11),
      happens: async () => {
        await addDiscount(services, DEMO_ACTOR, {
          provider: "brackwater",
          item: "compute",
          size: "",
          purchase: "",
          percent: "10",
          from: "2027-03-18",
          to: "2027-03-31",
        });
        discounts.push({ provider: "brackwater", item: "compute", percent: 10, from: utc(3, 18), to: utc(4, 1) });
      },
    },
    {
      at: utc(3, 20, 9),
      happens: async () => {
        await commit(ofAny);
        commitments.push(ofAny);
      },
    },
    {
      at: utc(3, 20, 12),
      happens: () => {
        unit("desk-osl-05").tags.team = "platform";
      },
    },
    {
      at: utc(3, 22, 6),
      happens: () => void world.outages.push({ account: "skerry-desks", kind: "no capacity", until: utc(3, 22, 7, 30) }),
    },
    {
      at: utc(3, 23, 12),
      happens: () => {
        const gone = unit("loose-03");
        gone.life.push({ at: keeper.now(), state: "gone", level: 0 });
        tell(world, gone, { at: keeper.now(), type: "gone" });
        vanished.push({ unit: gone, at: keeper.now() });
        remove(gone);
      },
    },
    { at: utc(3, 23, 13), happens: () => person("start", "sonar-04") },
    {
      at: utc(3, 24, 9),
      happens: async () => {
        const key = await priceKey();
        await overridePrice(services, DEMO_ACTOR, { key, rate: "0.25", fromDay: "2027-03-21" });
        handPrices.push({ size: "heron-8", rate: 0.25, from: utc(3, 21), to: Number.POSITIVE_INFINITY });
      },
    },
    { at: utc(3, 24, 12), happens: () => changeOslo() },
    {
      at: utc(3, 24, 15),
      happens: () => {
        const thing = world.loose.find(({ kind, account }) => kind === "disk" && account === "skerry-desks") as LooseThing;
        vanishedLoose.push({ thing, at: keeper.now() });
        world.loose.splice(world.loose.indexOf(thing), 1);
      },
    },
    {
      at: utc(3, 25, 9),
      happens: () => {
        for (const name of ["build-07", "build-09"]) {
          const one = unit(name);
          vanished.push({ unit: one, at: keeper.now() });
          remove(one);
        }
      },
    },
    {
      at: utc(3, 28, 9),
      happens: async () => {
        const back = vanished.find(({ unit: one }) => one.name === "build-09") as (typeof vanished)[number];
        back.back = keeper.now();
        world.units.push(back.unit);
        const key = await priceKey();
        await overridePrice(services, DEMO_ACTOR, { key, rate: null, fromDay: "2027-03-27" });
        handPrices[0] = { ...(handPrices[0] as (typeof handPrices)[number]), to: utc(3, 27) };
      },
    },
    { at: utc(3, 30), happens: () => void world.outages.push({ account: "skerry-south", kind: "error", until: utc(3, 30, 3) }) },
    { at: utc(3, 31, 10), happens: () => person("start", "sonar-07") },
    { at: utc(4, 1, 8), happens: () => hold("desk-osl-02", 0, 5 * HOUR) },
  ];

  async function hold(name: string, level: number, seconds: number): Promise<void> {
    const now = keeper.now();
    const { id } = unit(name);
    await placeHold(services, DEMO_ACTOR, {
      on: { resourceId: resourceKey(unit(name).account, id) },
      level,
      until: now + seconds,
      reason: "a reason",
    });
    holds.push({ unit: id, level, from: now, to: now + seconds });
  }

  /** Desks in Oslo go off an hour earlier from now on. */
  async function changeOslo(): Promise<void> {
    const id = (await fleetList(services.pool)).find(({ name }) => name === "desks-oslo")?.id ?? 0;
    const { fleet, schedules } = await openWorkbench(services, DEMO_ACTOR, id);
    const schedule = schedules.find(({ name }) => name === "desks-oslo");
    if (!schedule) throw new Error("no hours");
    const draft = { ...fleet.draft, schedule: { ...schedule, rows: [{ day: "workdays", spans: ["07:30-17:00"] }] } };
    const version = await keepDraft(services, DEMO_ACTOR, { id, draft, version: fleet.version });
    await putInForce(services, DEMO_ACTOR, { id, version, why: "an hour less", confirmedStops: 100 });
    osloHours = rules("17:00");
  }

  async function goTo(to: number): Promise<void> {
    for (let before = keeper.now(); before < to; ) {
      const now = Math.min(to, (Math.floor((before - STEP / 2) / STEP) + 1) * STEP + STEP / 2);
      keeper.stepTo(now);
      for (const one of happenings) if (one.at > before && one.at <= now) await one.happens();
      await roundWithPerson(services);
      // As the worker does after midnight; some nights it is late.
      if (now % DAY === STEP / 2 && now % (3 * DAY) !== STEP / 2) await settle();
      before = now;
    }
    await readClouds(services, keeper.now());
  }

  async function settle(): Promise<void> {
    await closeSpendDays(services, WORKER);
    await pullUsage(services, WORKER);
    await measureSavings(services, WORKER);
  }

  await readClouds(services, START);
  await loadPlan(services, DEMO_ACTOR, { text: PLAN, inForce: PLAN.match(/(?<=- \{ name: )[a-z-]+(?=, select)/g) ?? [] });
  await commit(ofDesks);
  await roundWithPerson(services);
  return {
    ...here,
    facts: () => ({
      world,
      now: keeper.now(),
      firstPrices: START - 62 * DAY,
      vanished,
      vanishedLoose,
      handPrices,
      discounts,
      commitments,
    }),
    plans: () => ({ rules: osloHours, holds, teamOf: ({ tags }) => tags.team ?? "", ownSize: (one) => ownSizes.get(one) ?? 1 }),
    goTo,
    settle,
  };
}
