import { expect, test } from "vitest";
import type { Mix } from "@/core/mix";
import { resourceKey } from "@/core/plan";
import { DEMO_ACTOR, WORKER } from "@/services/admin";
import { burnPage, closeSpendDays, measureSavings } from "@/services/cost";
import { readClouds } from "@/services/inventory";
import { keepDraft, openWorkbench, putInForce } from "@/services/plans";
import { placeHold } from "@/services/rounds";
import { fleetList, openMixOrders, realisedDays } from "@/store";
import { remove } from "../../standin/world/members";
import { DAY, HOUR, isOn, type Outage, present, type Unit } from "../../standin/world/types";
import { EVERYTHING } from "../support/burn-query";
import { ANY_GROUPS, anyMix, anyWantedAt, isSteadyAt, planOfAny, seeded } from "../support/mix/any-mix";
import { groupOf, membersOf } from "../support/mix/kept-fleet";
import { within } from "../support/patience";
import { startTrusted } from "../support/trusted";
import { costOf, everything, type Facts, lifeOf, totalOf, unitsOf, upTo } from "../support/weeks/ledger";
import { roundWithPerson } from "../support/weeks/look-after";
import { CENT, euros, number } from "../support/weeks/shown";

/** Groups of both clouds under mixes that somebody hasty changes, holds, takes away and puts back, while machines and clouds fail. */
const SEED = 7;
const START = Date.UTC(2027, 2, 16, 5) / 1000;
const DAYS = 2;

for (const group of ANY_GROUPS)
  test(`${group.name} under any mixes has no more than is wanted, is asked for once, and costs what the ledger says (seed ${SEED})`, {
    timeout: within(400),
  }, async () => {
    const chance = seeded(SEED);
    const { below, pick } = chance;
    const trusted = await startTrusted(planOfAny(group), [], {
      at: START,
      accounts: [group.account],
      prepare: (world) => {
        world.units = world.units.filter(({ name }) => name === group.name);
      },
    });
    try {
      const { services, keeper } = trusted;
      const { world } = keeper;
      const put = async (edit: (mix: Mix | undefined) => Mix | undefined) => {
        const id = (await fleetList(services.pool))[0]?.id ?? 0;
        const { fleet } = await openWorkbench(services, DEMO_ACTOR, id);
        const { mix: before, ...rest } = fleet.draft;
        const mix = edit(before);
        const draft = { ...rest, ...(mix ? { mix } : {}) };
        const version = await keepDraft(services, DEMO_ACTOR, { id, draft, version: fleet.version });
        await putInForce(services, DEMO_ACTOR, { id, version, why: "another", confirmedStops: 100 });
        return mix !== undefined;
      };
      let isMixed = await put(() => anyMix(group, chance));
      let unsettledTo = START + 3 * HOUR;
      const disturb = async (now: number) => {
        unsettledTo = now + 3 * HOUR;
        switch (below(6)) {
          case 0:
          case 1:
            isMixed = await put(() => anyMix(group, chance));
            return;
          case 2:
            isMixed = await put((mix) => (mix && below(2) > 0 ? undefined : anyMix(group, chance)));
            return;
          case 3: {
            const there = membersOf(world);
            if (there.length > 0) remove(world, pick(there), now);
            return;
          }
          case 4:
            world.outages.push({
              account: group.account,
              kind: pick<Outage["kind"]>(["error", "no capacity", "silent"]),
              until: now + 1_800,
            });
            unsettledTo = now + 4 * HOUR;
            return;
          default: {
            const { account, id } = groupOf(world);
            const on = { resourceId: resourceKey(account, id) };
            await placeHold(services, DEMO_ACTOR, { on, level: below(10), until: now + 2 * HOUR, reason: "for a while" });
            unsettledTo = now + 5 * HOUR;
          }
        }
      };
      const factsAt = (now: number): Facts => ({
        world: { ...world, loose: world.loose.filter(({ account }) => account === group.account) },
        now,
        firstPrices: START - 62 * DAY,
        vanished: [],
        vanishedLoose: [],
        handPrices: [],
        discounts: [],
        commitments: [],
      });
      let [disturbed, settled] = [0, 0];
      for (let before = keeper.now(); before < START + DAYS * DAY; before = keeper.now()) {
        keeper.stepTo(before + pick([120, 300, 600, 900]));
        const now = keeper.now();
        if (below(40) === 0) {
          disturbed++;
          await disturb(now);
        }
        await roundWithPerson(services);
        const own = present(groupOf(world));
        const there = membersOf(world).filter((unit) => isOn(present(unit).state));
        const units = there.reduce((sum, unit) => sum + (unit.size === group.large ? 2 : 1), isOn(own.state) ? own.level : 0);
        if (isMixed && now > unsettledTo && isSteadyAt(now)) {
          settled++;
          expect.soft(units, new Date(now * 1000).toISOString()).toBeLessThanOrEqual(anyWantedAt(now));
        }
        if (Math.floor(now / DAY) > Math.floor(before / DAY)) {
          await closeSpendDays(services, WORKER);
          await measureSavings(services, WORKER);
        }
        if (below(60) > 0 || world.outages.some(({ until }) => until > now)) continue;
        await readClouds(services, now);
        const known = (unit: Unit) => upTo(lifeOf(factsAt(now), unit), now);
        const over = (from: number, to: number) => everything(factsAt(now), { from, to }, known).gross;
        const burn = await burnPage(services, DEMO_ACTOR, { ...EVERYTHING, view: "before" });
        const said = new Date(now * 1000).toISOString();
        expect
          .soft(Math.abs(number(burn.all.month) - over(Date.UTC(2027, 2, 1) / 1000, now)), `${said} month`)
          .toBeLessThan(CENT);
        expect.soft(Math.abs(number(burn.all.perHour) - over(now, now + 1) * HOUR), `${said} an hour`).toBeLessThan(CENT);
      }
      console.log(`mix any: ${group.name}, ${disturbed} disturbances, ${world.membersMade} machines, ${settled} looks at rest`);
      expect(settled).toBeGreaterThan(20);
      for (const one of await realisedDays(services.pool, { from: "2027-03-16", to: "2027-04-01" })) {
        const day = Date.parse(one.day) / 1000;
        const facts = factsAt(keeper.now());
        const paid = unitsOf(facts).reduce(
          (sum, unit) => sum + totalOf(costOf(facts, unit, { life: lifeOf(facts, unit), span: { from: day, to: day + DAY } })),
          0,
        );
        expect.soft(Math.abs(euros(one.paid) - paid), `${one.day} paid`).toBeLessThan(0.001);
        expect.soft(Math.abs(euros(one.gap.unexplained)), `${one.day} unexplained of ${paid}`).toBeLessThan(paid / 100);
      }
      // Every machine that the cloud made was asked for once.
      const { rows } = await services.pool.query<{ n: number; members: number }>(
        "select count(*)::integer as n, count(distinct member_id)::integer as members from mix_order where kind = 'order' and status = 'accepted'",
      );
      expect(rows[0]).toEqual({ n: world.membersMade, members: world.membersMade });
      expect(await openMixOrders(services.pool)).toEqual([]);
    } finally {
      await trusted.close();
    }
  });
