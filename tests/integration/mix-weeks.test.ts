import Papa from "papaparse";
import { afterAll, beforeAll, expect, test } from "vitest";
import { resourceKey } from "@/core/plan";
import { GAP_CAUSES } from "@/core/realised";
import { DEMO_ACTOR } from "@/services/admin";
import { burnCsv, burnPage, machineCost, spendNow, spendOfDay, timeStrip } from "@/services/cost";
import { exportFocus, reconcile } from "@/services/usage";
import { realisedDays } from "@/store";
import { DAY, HOUR, isOn, type Unit } from "../../standin/world/types";
import { EVERYTHING } from "../support/burn-query";
import { groupOf, unitsOf as worthOf } from "../support/mix/kept-fleet";
import { type KeptStory, startKeptStory, utc } from "../support/mix/kept-story";
import { within } from "../support/patience";
import {
  computeRate,
  costOf,
  coveredOver,
  everything,
  type Life,
  type Living,
  lifeOf,
  totalOf,
  unitsOf,
  upTo,
} from "../support/weeks/ledger";
import { CENT, euros, number } from "../support/weeks/shown";

/** A fortnight of a kept mix, every figure held to the ledger of the weeks, which shares nothing with the application. */
let story: KeptStory;
const END = utc(3, 30);
const START = utc(3, 16);
beforeAll(async () => {
  story = await startKeptStory();
}, within(120));
afterAll(() => story?.close());

const keyOf = ({ account, id }: Unit) => resourceKey(account, id);
const dayOf = (t: number) => new Date(t * 1000).toISOString().slice(0, 10);

/** What happened to a unit, as far as it was known by then. */
const lifeKnown = (unit: Unit, now: number): Life => upTo(lifeOf(story.facts(), unit), now);

for (const at of [utc(3, 17, 20), utc(3, 20, 15), utc(3, 23, 6), utc(3, 25, 1), utc(3, 27, 13), END]) {
  test(`figures of ${new Date(at * 1000).toISOString()} are the ledger's`, { timeout: 400_000 }, async () => {
    await story.goTo(at);
    await story.settle();
    const { services } = story;
    const facts = story.facts();
    const known = (unit: Unit) => lifeKnown(unit, at);
    const [month, steady] = [
      everything(facts, { from: utc(3, 1), to: at }, known),
      everything(facts, { from: at, to: at + 1 }, known),
    ];
    for (const view of ["after", "before"] as const) {
      const of = ({ net, gross }: typeof month) => (view === "after" ? net : gross);
      const burn = await burnPage(services, DEMO_ACTOR, { ...EVERYTHING, view });
      expect.soft(number(burn.all.perHour), `${view} an hour`).toBeCloseTo(of(steady) * HOUR, 2);
      expect
        .soft(Math.abs(number(burn.all.month) - of(month)), `${view} month ${burn.all.month} ${of(month)}`)
        .toBeLessThan(CENT);
      const command = await spendNow(services, DEMO_ACTOR, view);
      expect.soft(Math.abs(Number(command.thisMonth) - of(month)), `${view} spend now`).toBeLessThan(0.0005);
      const { text } = await burnCsv(services, DEMO_ACTOR, { ...EVERYTHING, view });
      const rows = Papa.parse<Record<string, string>>(text, { header: true, skipEmptyLines: true }).data;
      const byId = new Map(rows.map((row) => [row.id, row]));
      for (const unit of unitsOf(facts)) {
        const row = byId.get(unit.id);
        const own = (whole: typeof month, span: { from: number; to: number }) =>
          view === "after" ? (whole.byUnit.get(unit) ?? 0) : totalOf(costOf(facts, unit, { life: known(unit), span }));
        if (isOn(known(unit).at(-1)?.state ?? "gone")) expect.soft(row, `${view} ${unit.name}`).toBeDefined();
        if (!row) continue;
        const said = [number(row.this_month), number(row.per_hour)];
        const meant = [own(month, { from: utc(3, 1), to: at }), own(steady, { from: at, to: at + 1 }) * HOUR];
        for (const i of [0, 1]) expect.soft(said[i], `${view} ${unit.name} ${i}`).toBeCloseTo(meant[i] as number, 2);
      }
      const strip = await timeStrip(services, DEMO_ACTOR, { view });
      for (let from = strip.from; from + HOUR <= at; from += HOUR) {
        const said = (strip.micros[(from - strip.from) / HOUR] ?? 0) / 1e6;
        const meant = of(everything(facts, { from, to: from + HOUR }, known));
        expect
          .soft(Math.abs(said - meant), `${view} strip ${new Date(from * 1000).toISOString()} ${said} ${meant}`)
          .toBeLessThan(0.0001);
      }
    }
  });
}

test("as of instants of the fortnight what ran, by what it was bought as, cost what the ledger says", async () => {
  const { services } = story;
  const facts = story.facts();
  for (const at of [
    utc(3, 17, 9),
    utc(3, 18, 22),
    utc(3, 20, 12),
    utc(3, 22, 13),
    utc(3, 24, 21),
    utc(3, 25, 12),
    utc(3, 27, 14),
  ]) {
    const known = (unit: Unit) => lifeKnown(unit, at);
    for (const view of ["after", "before"] as const) {
      const said = `${new Date(at * 1000).toISOString()} ${view}`;
      const burn = await burnPage(services, DEMO_ACTOR, { ...EVERYTHING, group: "purchase", at, view });
      const [steady, month] = [
        everything(facts, { from: at, to: at + 1 }, known),
        everything(facts, { from: utc(3, 1), to: at }, known),
      ];
      const of = ({ net, gross }: typeof month) => (view === "after" ? net : gross);
      expect.soft(number(burn.all.perHour), `${said} an hour`).toBeCloseTo(of(steady) * HOUR, 2);
      expect
        .soft(Math.abs(number(burn.all.month) - of(month)), `${said} month ${burn.all.month} ${of(month)}`)
        .toBeLessThan(CENT);
      const running = unitsOf(facts).filter((unit) => isOn(known(unit).at(-1)?.state ?? "gone"));
      for (const purchase of ["firm", "spot"] as const) {
        const own = running.filter((unit) => unit.purchase === purchase);
        const line = burn.lines.find((one) => one.kind === "group" && one.key === purchase);
        const hourly = (unit: Unit) =>
          view === "after"
            ? (steady.byUnit.get(unit) ?? 0)
            : totalOf(costOf(facts, unit, { life: known(unit), span: { from: at, to: at + 1 } }));
        const meant = own.reduce((sum, unit) => sum + hourly(unit), 0) * HOUR;
        expect.soft(line?.kind === "group" ? line.count : 0, `${said} ${purchase}`).toBe(own.length);
        // Shown parts add up to the whole: each may be a cent off for it.
        if (line?.kind === "group")
          expect.soft(Math.abs(number(line.perHour) - meant), `${said} ${purchase}`).toBeLessThan(2 * CENT);
      }
      // At full price: the same machines, bought firm.
      const spot = running.filter(({ purchase }) => purchase === "spot");
      const full = spot.reduce((sum, unit) => {
        const life = known(unit);
        return sum + totalOf(costOf(facts, { ...unit, purchase: "firm" }, { life, span: { from: at, to: at + 1 } })) * HOUR;
      }, 0);
      expect.soft(burn.spot?.count ?? 0, said).toBe(spot.length);
      expect.soft(number(burn.spot?.fullPerHour ?? "0"), `${said} at full price`).toBeCloseTo(full, 2);
    }
  }
});

test("every day that was reckoned, and reckoned anew, is the ledger's, item by item", async () => {
  for (let day = START; day < END; day += DAY) {
    const said = await spendOfDay(story.services, DEMO_ACTOR, dayOf(day));
    const own = everything(story.facts(), { from: day, to: day + DAY }, (unit) => lifeKnown(unit, END));
    for (const [item, amount] of Object.entries({ ...own.items, covered: own.covered, fees: own.fees }))
      expect
        .soft(Math.abs(Number(said.byItem[item] ?? "0") - amount), `${dayOf(day)} ${item} ${said.byItem[item]} ${amount}`)
        .toBeLessThan(0.0001);
  }
});

test("every machine that a mix had, and has lost, costs on its page what the ledger says", async () => {
  const facts = story.facts();
  const lost = unitsOf(facts).filter(({ kind }) => kind === "member");
  for (const unit of lost.filter((_, i) => i % 7 === 0)) {
    const cost = await machineCost(story.services, DEMO_ACTOR, { id: keyOf(unit), from: null, to: null, view: "before" });
    const own = totalOf(costOf(facts, unit, { life: lifeKnown(unit, END), span: { from: utc(3, 1), to: END } }));
    expect.soft(Math.abs(number(cost.total) - own), `${unit.name} ${cost.total} ${own}`).toBeLessThan(CENT);
  }
  expect(lost.length).toBeGreaterThan(50);
});

test("as FOCUS it is the same sum, and beside the meter nothing differs but what a person entered and what vanished", async () => {
  let text = "";
  for await (const piece of exportFocus(story.services, DEMO_ACTOR, { from: dayOf(START), to: dayOf(END - DAY) })) text += piece;
  const rows = Papa.parse<Record<string, string>>(text, { header: true, skipEmptyLines: true }).data;
  const whole = everything(story.facts(), { from: START, to: END }, (unit) => lifeKnown(unit, END));
  const billed = rows.reduce((sum, { BilledCost }) => sum + Number(BilledCost), 0);
  expect(Math.abs(billed - whole.net), `${billed} ${whole.net}`).toBeLessThan(CENT);
  const { differences, expected } = await reconcile(story.services, DEMO_ACTOR, { from: dayOf(START), to: dayOf(END - DAY) });
  expect(expected.map(({ reason }) => reason).sort()).toEqual(["a discount", "a price set by hand"]);
  const vanished = new Set(story.facts().vanished.map(({ unit }) => keyOf(unit)));
  expect(differences.filter(({ resourceId }) => !vanished.has(resourceId))).toEqual([]);
});

test("what the mix saved on each day is what its units would have cost at the group's own price, less what its members did", async () => {
  const facts = story.facts();
  const group = groupOf(facts.world);
  const stored = (await realisedDays(story.services.pool, { from: dayOf(START), to: dayOf(END) })).filter(
    ({ fleet }) => fleet === "tiles",
  );
  expect(stored.map(({ day }) => day)).toEqual(Array.from({ length: 13 }, (_, i) => dayOf(START + (i + 1) * DAY)));
  let within = 0;
  const misses: number[] = [];
  for (const one of stored) {
    const day = Date.parse(one.day) / 1000;
    const span = { from: day, to: day + DAY };
    const cost = (unit: Unit, life = lifeKnown(unit, END)) => totalOf(costOf(facts, unit, { life, span }));
    const members = unitsOf(facts).filter((unit) => unit !== group);
    const given = members.reduce((sum, unit) => sum + cost(unit), 0);
    expect.soft(Math.abs(euros(one.paid) - cost(group) - given), `${one.day} paid`).toBeLessThan(0.0001);
    const asOwn = cost(group, together(group, members)) - cost(group);
    const saved = -euros(one.gap["the mix"]);
    expect.soft(Math.abs(saved - (asOwn - given)), `${one.day} saved ${saved} ${asOwn - given}`).toBeLessThan(0.01);
    expect
      .soft(
        GAP_CAUSES.reduce((sum, cause) => sum + one.gap[cause], 0n),
        one.day,
      )
      .toBe(one.paid - one.projected);
    const unexplained = Math.abs(euros(one.gap.unexplained));
    expect.soft(unexplained, `${one.day} unexplained of ${euros(one.paid)}`).toBeLessThan(euros(one.paid) / 100);
    // What commitments would have paid of the group as it ran before, less what they paid of what there was.
    const paidFor = (all: readonly Living[]) => [...coveredOver(facts, all, span).values()].reduce((sum, paid) => sum + paid, 0);
    const without = one.basis.map((date) => {
      const shift = day - Date.parse(date) / 1000;
      return paidFor([{ unit: group, life: group.life.map((change) => ({ ...change, at: change.at + shift })) }]);
    });
    const really = paidFor(unitsOf(facts).map((unit) => ({ unit, life: lifeKnown(unit, END) })));
    const coveredAnyway = without.reduce((sum, paid) => sum + paid, 0) / without.length - really;
    expect
      .soft(
        Math.abs(euros(one.coveredAnyway) - coveredAnyway),
        `${one.day} coveredAnyway ${euros(one.coveredAnyway)} ${coveredAnyway}`,
      )
      .toBeLessThan(0.001);
    // Never more than was wanted, but for what is on its way out or in: a plan that drops a pool lets go of what came from it.
    const hours = asOwn / computeRate(facts, group, day);
    expect.soft(hours, `${one.day} unit-hours`).toBeLessThan(1.03 * (14 * 10 + 10 * 4));
    // On the day without a mix there was none to foretell.
    const forecast = one.levers.find(({ lever }) => lever === "mix")?.forecast ?? null;
    expect.soft(forecast !== null, `${one.day} is foretold`).toBe(one.day !== "2027-03-25");
    const isWithin = forecast !== null && saved >= euros(forecast.p5) && saved <= euros(forecast.p95);
    if (!QUIET.includes(one.day) || !forecast) continue;
    if (isWithin) within++;
    misses.push(Math.abs(saved - euros(forecast.p50)) / saved);
  }
  const miss = misses.reduce((sum, one) => sum + one, 0) / misses.length;
  console.log(
    `mix weeks: on ${within} of ${QUIET.length} days what the mix saved lay within nine of ten that were foretold, on average ` +
      `${(100 * miss).toFixed(1)} % from the middle`,
  );
  expect(within).toBeGreaterThanOrEqual(QUIET.length / 2);
  expect(miss).toBeLessThan(0.05);
});

/** Days on which nobody changed a plan, a price or what is wanted, and all could be read. */
const QUIET = ["2027-03-19", "2027-03-20", "2027-03-22", "2027-03-26", "2027-03-28", "2027-03-29"];

/** The group as if the units of its members were its own: at every instant at which anything changes, counted anew. */
function together(group: Unit, members: readonly Unit[]): Life {
  const lives = [group, ...members].map((unit) => ({
    worth: unit === group ? null : worthOf([unit]),
    life: lifeKnown(unit, END),
  }));
  const edges = [...new Set(lives.flatMap(({ life }) => life.map(({ at }) => at)))].sort((a, b) => a - b);
  const own = lifeKnown(group, END);
  return edges
    .filter((at) => at >= (own[0]?.at ?? 0))
    .map((at) => {
      const level = lives.reduce((sum, { worth, life }) => {
        const now = life.findLast((one) => one.at <= at);
        return now && isOn(now.state) ? sum + (worth ?? now.level) : sum;
      }, 0);
      return { at, level, state: level > 0 ? ("running" as const) : (own.findLast((one) => one.at <= at)?.state ?? "stopped") };
    });
}
