import type { Mix } from "@/core/mix";
import { resourceKey } from "@/core/plan";
import { DEMO_ACTOR, WORKER } from "@/services/admin";
import { addCommitment, addDiscount, closeSpendDays, measureSavings, overridePrice } from "@/services/cost";
import { readClouds } from "@/services/inventory";
import { keepDraft, openWorkbench, putInForce } from "@/services/plans";
import { placeHold } from "@/services/rounds";
import { pullUsage } from "@/services/usage";
import { fleetList } from "@/store";
import { remove } from "../../../standin/world/members";
import { DAY, HOUR, present, type Unit } from "../../../standin/world/types";
import type { Trusted } from "../trusted";
import type { Facts, SlowCommitment } from "../weeks/ledger";
import { roundWithPerson } from "../weeks/look-after";
import { groupOf, membersOf, startKept, unitsOf } from "./kept-fleet";

export const utc = (month: number, day: number, hour = 0) => Date.UTC(2027, month - 1, day, hour) / 1000;
const START = utc(3, 16, 5);

/** A fortnight of a group under a mix, in which plan, prices, commitments and machines change, and what a slow ledger needs to know of it. */
export type KeptStory = Trusted &
  Readonly<{
    facts: () => Facts;
    /** On to an instant, a round every few minutes, and the clouds read there. */
    goTo: (to: number) => Promise<void>;
    /** Reckons the days that are over, as the worker does at night. */
    settle: () => Promise<void>;
  }>;

type Happening = Readonly<{ at: number; happens: () => Promise<void> | void }>;

export async function startKeptStory(): Promise<KeptStory> {
  const trusted = await startKept(START);
  const { services, keeper } = trusted;
  const { world } = keeper;
  const vanished: { unit: Unit; at: number }[] = [];
  const handPrices: { size: string; spotIn: string; rate: number; from: number; to: number }[] = [];
  const discounts: { provider: string; item: string; purchase: string; percent: number; from: number; to: number }[] = [];
  const commitments: SlowCommitment[] = [
    {
      account: "skerry-survey",
      region: "fjord-1",
      size: "ketch-8",
      units: 6,
      fee: 1.314,
      from: utc(1, 1),
      to: utc(12, 31) + DAY,
    },
  ];
  const up = (purchase: Unit["purchase"]) => {
    const found = membersOf(world).find((unit) => unit.purchase === purchase && present(unit).state === "running");
    if (!found) throw new Error(`no ${purchase} member is up`);
    return found;
  };
  const price = async (rate: string | null, fromDay: string) =>
    overridePrice(services, DEMO_ACTOR, {
      key: "norrhav | fjord-1 | compute | sloop-4 | linux | spot |  | fjord-1a",
      rate,
      fromDay,
    });
  const change = async (why: string, edit: (mix: Mix) => Mix | undefined) => {
    const id = (await fleetList(services.pool)).find(({ name }) => name === "tiles")?.id ?? 0;
    const { fleet } = await openWorkbench(services, DEMO_ACTOR, id);
    const { mix: before, ...rest } = fleet.draft;
    const mix = edit(before ?? (lastMix as Mix));
    lastMix = mix ?? before;
    const version = await keepDraft(services, DEMO_ACTOR, {
      id,
      draft: { ...rest, ...(mix ? { mix } : {}) },
      version: fleet.version,
    });
    await putInForce(services, DEMO_ACTOR, { id, version, why, confirmedStops: 100 });
  };
  let lastMix: Mix | undefined;

  const happenings: Happening[] = [
    { at: utc(3, 17, 10), happens: () => change("steadier", (mix) => ({ ...mix, firm: 4, pools: mix.pools.slice(0, 2) })) },
    {
      at: utc(3, 18, 9),
      happens: async () => {
        await price("0.09", "2027-03-17");
        handPrices.push({ size: "sloop-4", spotIn: "fjord-1a", rate: 0.09, from: utc(3, 17), to: Number.POSITIVE_INFINITY });
      },
    },
    {
      at: utc(3, 19, 12),
      happens: async () => {
        const what = { provider: "norrhav", item: "compute", purchase: "spot", percent: 15 };
        await addDiscount(services, DEMO_ACTOR, { ...what, size: "", percent: "15", from: "2027-03-18", to: "2027-03-23" });
        discounts.push({ ...what, from: utc(3, 18), to: utc(3, 24) });
      },
    },
    {
      at: utc(3, 20, 8),
      happens: async () => {
        const own = { account: "skerry-survey", region: "fjord-1", size: "sloop-4", units: 3 };
        await addCommitment(services, DEMO_ACTOR, {
          ...own,
          provider: "norrhav",
          units: "3",
          fee_per_hour: "0.3",
          from: "2027-03-19",
          to: "2027-12-31",
        });
        commitments.push({ ...own, fee: 0.3, from: utc(3, 19), to: utc(12, 31) + DAY });
      },
    },
    { at: utc(3, 21, 11), happens: () => change("disks are worth it", (mix) => ({ ...mix, eviction: "keep disks" })) },
    { at: utc(3, 22, 9), happens: () => remove(world, up("spot"), keeper.now()) },
    {
      at: utc(3, 22, 12),
      happens: () => {
        const unit = up("firm");
        vanished.push({ unit, at: keeper.now() });
        world.units.splice(world.units.indexOf(unit), 1);
      },
    },
    {
      at: utc(3, 23, 2),
      happens: () => void world.outages.push({ account: "skerry-survey", kind: "error", until: utc(3, 23, 5) }),
    },
    { at: utc(3, 24, 11), happens: () => change("no mix for a day", () => undefined) },
    {
      at: utc(3, 25, 11),
      happens: () => change("and back", (mix) => ({ ...mix, firm: 2, order: "cheapest", eviction: "drop" })),
    },
    {
      at: utc(3, 26, 9),
      happens: async () => {
        await price(null, "2027-03-25");
        handPrices[0] = { ...(handPrices[0] as (typeof handPrices)[number]), to: utc(3, 25) };
      },
    },
    {
      at: utc(3, 27, 10),
      happens: async () => {
        const group = groupOf(world);
        const on = { resourceId: resourceKey(group.account, group.id) };
        await placeHold(services, DEMO_ACTOR, { on, level: 2, until: keeper.now() + 5 * HOUR, reason: "a quiet afternoon" });
      },
    },
  ];

  async function settle(): Promise<void> {
    await closeSpendDays(services, WORKER);
    await pullUsage(services, WORKER);
    await measureSavings(services, WORKER);
  }

  async function goTo(to: number): Promise<void> {
    let units = unitsOf(membersOf(world));
    for (let before = keeper.now(); before < to; before = keeper.now()) {
      const isSteady = unitsOf(membersOf(world)) === units;
      units = unitsOf(membersOf(world));
      keeper.stepTo(Math.min(to, before + (isSteady ? 900 : 180)));
      for (const one of happenings) if (one.at > before && one.at <= keeper.now()) await one.happens();
      await roundWithPerson(services);
      // As the worker does after midnight; some nights it is late.
      const day = Math.floor(keeper.now() / DAY);
      if (day > Math.floor(before / DAY) && day % 3 !== 0) await settle();
    }
    await readClouds(services, keeper.now());
  }

  await settle();
  return {
    ...trusted,
    facts: () => ({
      // Of the other accounts nothing is known.
      world: { ...world, loose: world.loose.filter(({ account }) => account === "skerry-survey") },
      now: keeper.now(),
      firstPrices: START - 62 * DAY,
      vanished,
      vanishedLoose: [],
      handPrices,
      discounts,
      commitments,
    }),
    goTo,
    settle,
  };
}
