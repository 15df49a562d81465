import Papa from "papaparse";
import { afterAll, beforeAll, expect, test } from "vitest";
import { projectPlan } from "@/core/levers";
import { resourceKey } from "@/core/plan";
import { decodeLines, monthsFrom, sizedLines } from "@/core/projection";
import { GAP_CAUSES } from "@/core/realised";
import { DEMO_ACTOR } from "@/services/admin";
import { burnCsv, burnPage, machineCost, projectionBasis, realisedView, spendNow, spendOfDay, timeStrip } from "@/services/cost";
import { compileAll, loadSnapshot } from "@/services/inventory";
import { previewReport } from "@/services/report";
import { correctionsOf, exportFocus, reconcile } from "@/services/usage";
import { realisedDays } from "@/store";
import { DAY, HOUR, isOn, type Unit } from "../../standin/world/types";
import { within } from "../support/patience";
import { fleetOf, isGuarded, lifeAhead } from "../support/weeks/ahead";
import {
  costOf,
  everything,
  type Life,
  lifeOf,
  looseCost,
  runsOf,
  totalOf,
  unitsOf,
  upTo,
  type Whole,
} from "../support/weeks/ledger";
import { CENT, euros, number } from "../support/weeks/shown";
import { END, START, type Story, startStory, utc } from "../support/weeks/story";

/**
 * Three weeks of nine fleets over both clock changes, every figure held to a ledger that shares
 * nothing with the application (docs/architecture.md, Tests).
 */
let story: Story;
beforeAll(async () => {
  story = await startStory();
}, within(120));
afterAll(() => story?.close());

/** What the application knows a unit by. */
const keyOf = ({ account, id }: Unit) => resourceKey(account, id);

/** What the ledger says of an instant. */
function slow(now: number) {
  const facts = story.facts();
  const plans = story.plans();
  const known = (unit: Unit): Life => upTo(lifeOf(facts, unit), now);
  const planned = new Map<Unit, Life>();
  const monthStart = Date.UTC(2027, new Date(now * 1000).getUTCMonth(), 1) / 1000;
  const monthEnd = Date.UTC(2027, new Date(now * 1000).getUTCMonth() + 1, 1) / 1000;
  for (const unit of unitsOf(facts))
    planned.set(unit, lifeAhead(unit, known(unit), { from: now, to: monthEnd + 2 * DAY, plans }));
  const ahead = (unit: Unit) => planned.get(unit) ?? known(unit);
  const over = (from: number, to: number, life: (unit: Unit) => Life) => everything(facts, { from, to }, life);
  return { facts, known, ahead, monthStart, monthEnd, over };
}

const gross = ({ gross: sum }: Whole) => sum;
const net = ({ net: sum }: Whole) => sum;

/** A run that goes on as its provider tells it, whether it was listed all along or not, from where it began, as it would be billed if it ended now. */
function soFar(unit: Unit, life: Life, now: number): number {
  const facts = story.facts();
  const last = runsOf(unit, [...life, { at: Number.POSITIVE_INFINITY, state: "gone", level: 0 }]).at(-1);
  if (!last || last.to !== Number.POSITIVE_INFINITY) return 0;
  const first = life.findLastIndex(({ state }, i) => {
    const before = life[i - 1];
    return (isOn(state) || state === "halted") && (!before || !(isOn(before.state) || before.state === "halted"));
  });
  const from = life[first]?.at ?? now;
  return totalOf(costOf(facts, unit, { life: [...life, { at: now, state: "stopped", level: 0 }], span: { from, to: now } }));
}

/** The evening report of an instant: the same figures, as it writes them. */
async function mailHolds(now: number): Promise<void> {
  const { known, ahead, monthStart, monthEnd, over } = slow(now);
  const { text } = await previewReport(story.services, DEMO_ACTOR, { name: "Evening", zone: "Europe/Oslo", scope: "" });
  const plain = text.replaceAll(/[\u00a0\u202f]/g, " ");
  const money = [...plain.matchAll(/\d{1,3}(?: \d{3})*\.\d\d/g)].map(([one]) => number(one?.replaceAll(" ", "")));
  const midnight = Math.floor(now / DAY) * DAY;
  const steady = over(now, now + 1, known);
  for (const [what, amount] of [
    ["an hour", steady.net * HOUR],
    ["month", over(monthStart, now, known).net],
    ["by month's end", over(monthStart, monthEnd, ahead).net],
    ["yesterday", over(midnight - DAY, midnight, known).net],
  ] as const)
    expect
      .soft(
        money.some((one) => Math.abs(one - amount) < CENT),
        `mail of ${now}: ${what} ${amount} in\n${plain.slice(0, 900)}`,
      )
      .toBe(true);
}

async function holdsAt(now: number): Promise<void> {
  const { facts, known, ahead, monthStart, monthEnd, over } = slow(now);
  const { services } = story;
  const month = over(monthStart, now, known);
  const planned = over(monthStart, monthEnd, ahead);
  const steady = over(now, now + 1, known);
  for (const view of ["after", "before"] as const) {
    const of = view === "after" ? net : gross;
    const shareOf = (whole: Whole, unit: Unit, life: Life, span: { from: number; to: number }) =>
      view === "after" ? (whole.byUnit.get(unit) ?? 0) : totalOf(costOf(facts, unit, { life, span }));
    const burn = await burnPage(services, DEMO_ACTOR, { ...QUERY, group: "region", at: null, view });
    const said = `${new Date(now * 1000).toISOString()} ${view}`;
    expect.soft(number(burn.all.perHour), `${said} an hour`).toBeCloseTo(of(steady) * HOUR, 2);
    expect.soft(Math.abs(number(burn.all.month) - of(month)), `${said} month ${burn.all.month} ${of(month)}`).toBeLessThan(CENT);
    expect
      .soft(Math.abs(number(burn.all.byMonthEnd) - of(planned)), `${said} by month's end ${burn.all.byMonthEnd} ${of(planned)}`)
      .toBeLessThan(CENT);
    // As at this instant: today's rates to the month's end.
    expect
      .soft(Math.abs(number(burn.all.ifAsNow) - of(month) - of(steady) * (monthEnd - now)), `${said} if as now`)
      .toBeLessThan(CENT);
    const csv = Papa.parse<Record<string, string>>((await burnCsv(services, DEMO_ACTOR, { ...QUERY, at: null, view })).text, {
      header: true,
      skipEmptyLines: true,
    }).data;
    const byId = new Map(csv.map((row) => [row.id, row]));
    for (const unit of unitsOf(facts)) {
      const row = byId.get(unit.id);
      const own = [
        ["this_month", shareOf(month, unit, known(unit), { from: monthStart, to: now })],
        ["by_month_end", shareOf(planned, unit, ahead(unit), { from: monthStart, to: monthEnd })],
        ["per_hour", shareOf(steady, unit, known(unit), { from: now, to: now + 1 }) * HOUR],
        ...(row?.so_far ? [["so_far", soFar(unit, upTo(unit.life, now), now)] as const] : []),
      ] as const;
      for (const [column, amount] of own) {
        const shown = Number(row?.[column] ?? 0);
        expect
          .soft(
            Math.abs(shown - amount),
            `${said} ${unit.id} ${column} ${shown} ${amount} ${JSON.stringify(known(unit).slice(-3))}`,
          )
          .toBeLessThan(1e-5);
      }
    }
    const command = await spendNow(services, DEMO_ACTOR, view);
    const totals = [command.perHour, command.thisMonth, command.byMonthEnd, command.monthEndIfAsNow].map(Number);
    [of(steady) * HOUR, of(month), of(planned), of(month) + of(steady) * (monthEnd - now)].forEach((amount, i) => {
      expect.soft(Math.abs((totals[i] as number) - amount), `${said} spend now ${i}`).toBeLessThan(0.0005);
    });
    for (const line of burn.lines) {
      if (line.kind !== "group" || line.key === "commitments") continue;
      const own = unitsOf(facts).filter(({ region }) => region === line.key);
      const loose = [...facts.world.loose, ...facts.vanishedLoose.map(({ thing }) => thing)].filter(
        ({ region }) => region === line.key,
      );
      const amount =
        own.reduce((sum, unit) => sum + shareOf(month, unit, known(unit), { from: monthStart, to: now }), 0) +
        loose.reduce((sum, thing) => sum + looseCost(facts, thing, { from: monthStart, to: now }), 0);
      expect.soft(Math.abs(number(line.month) - amount), `${said} ${line.key} ${line.month} ${amount}`).toBeLessThan(2 * CENT);
    }
    for (const name of ["desk-osl-02", "desk-akl-04", "loose-02", "archive-index-01", "build-09", "replay-pool-kept"]) {
      const unit = unitsOf(facts).find((one) => one.name === name) as Unit;
      const cost = await machineCost(services, DEMO_ACTOR, { id: keyOf(unit), from: null, to: null, view });
      const amount = shareOf(month, unit, known(unit), { from: monthStart, to: now });
      expect.soft(Math.abs(number(cost.total) - amount), `${said} cost of ${name} ${cost.total} ${amount}`).toBeLessThan(CENT);
      const cents = (text: string) => Math.round(number(text) * 100);
      expect
        .soft(cost.terms.reduce((sum, { amount: own }) => sum + cents(own), 0) - cents(cost.covered), name)
        .toBe(cents(cost.total));
    }
    const strip = await timeStrip(services, DEMO_ACTOR, { view });
    strip.micros.forEach((micros, i) => {
      const from = strip.from + i * HOUR;
      // What is due to change at this very instant was not billed before it.
      const hour =
        from === now
          ? of(over(from - 1, from + HOUR, ahead)) - of(over(from - 1, from, known))
          : of(over(from, from + HOUR, from + HOUR <= now ? known : ahead));
      expect
        .soft(Math.abs(micros / 1e6 - hour), `${said} strip ${i} ${new Date(from * 1000).toISOString()} ${micros / 1e6} ${hour}`)
        .toBeLessThan(0.0001);
    });
  }
}

const QUERY = {
  filters: [] as string[],
  group: "none",
  sort: "perHour",
  isDescending: true,
  only: "all",
  opened: [] as string[],
  offset: 0,
  limit: 500,
} as const;

for (const at of [utc(3, 17, 10, 30), utc(3, 22, 9), utc(3, 26, 13), utc(3, 28, 20), utc(3, 31, 23), utc(4, 3, 2), END]) {
  test(`figures of ${new Date(at * 1000).toISOString()} are the ledger's`, { timeout: 300_000 }, async () => {
    expect.hasAssertions();
    await story.goTo(at);
    await story.settle();
    await holdsAt(at);
    await mailHolds(at);
  });
}

const UNTIL = Math.floor(END / DAY) * DAY;
const dayOf = (t: number) => new Date(t * 1000).toISOString().slice(0, 10);

test("every day that was reckoned, and reckoned anew, is the ledger's, item by item", async () => {
  const { known, over } = slow(END);
  for (let day = START; day < UNTIL; day += DAY) {
    const said = await spendOfDay(story.services, DEMO_ACTOR, dayOf(day));
    const own = over(day, day + DAY, known);
    const items = { ...own.items, covered: own.covered, fees: own.fees };
    for (const [item, amount] of Object.entries(items))
      expect
        .soft(Math.abs(Number(said.byItem[item] ?? "0") - amount), `${dayOf(day)} ${item} ${said.byItem[item]} ${amount}`)
        .toBeLessThan(0.0001);
    expect.soft(Math.abs(Number(said.total) - own.net), dayOf(day)).toBeLessThan(0.0001);
  }
});

test("March as FOCUS and March as the application shows it agree to the cent, net and gross, with the ledger", async () => {
  const { known, over } = slow(END);
  const march = over(utc(3, 1), utc(4, 1), known);
  let text = "";
  for await (const piece of exportFocus(story.services, DEMO_ACTOR, { from: "2027-03-01", to: "2027-03-31" })) text += piece;
  const rows = Papa.parse<Record<string, string>>(text, { header: true, skipEmptyLines: true }).data;
  const sum = (of: (row: Record<string, string>) => number) => rows.reduce((total, row) => total + of(row), 0);
  expect(Math.abs(sum(({ BilledCost }) => Number(BilledCost)) - march.net)).toBeLessThan(CENT);
  const usage = (column: string) => sum((row) => (row.ChargeCategory === "Usage" ? Number(row[column]) : 0));
  expect(Math.abs(usage("ContractedCost") - march.gross)).toBeLessThan(CENT);
  // What is billed over all, amortised fees in place of fees, is the same: nothing of a fee is lost.
  expect(Math.abs(sum(({ EffectiveCost }) => Number(EffectiveCost)) - march.net)).toBeLessThan(CENT);
  // A row is used of a commitment or it is not: what is paid for in part is two; and a unit's price times the quantity is the cost.
  const used = rows.filter((row) => row.ChargeCategory === "Usage" && row.CommitmentDiscountStatus === "Used");
  expect(used.length).toBeGreaterThan(100);
  expect(used.every(({ BilledCost }) => Number(BilledCost) === 0)).toBe(true);
  const priced = rows.filter(({ ChargeCategory, ListUnitPrice }) => ChargeCategory === "Usage" && ListUnitPrice !== "");
  for (const { ListUnitPrice, PricingQuantity, ListCost, ResourceId } of priced)
    expect(Math.abs(Number(ListUnitPrice) * Number(PricingQuantity) - Number(ListCost)), ResourceId).toBeLessThan(0.00002);
});

test("beside the meter nothing differs but what prices by hand, discounts and machines that vanished make differ", async () => {
  const { differences, expected, days } = await reconcile(story.services, DEMO_ACTOR, { from: "2027-03-16", to: "2027-04-05" });
  expect(days).toHaveLength(21);
  expect(expected.map(({ reason }) => reason)).toEqual(["a price set by hand", "a discount"]);
  const vanished = new Set(story.facts().vanished.map(({ unit }) => keyOf(unit)));
  expect(differences.filter(({ resourceId }) => !vanished.has(resourceId) && resourceId.includes("-disk-") === false)).toEqual(
    [],
  );
  const { facts } = slow(END);
  const plain = { ...facts, handPrices: [], discounts: [] };
  const by = (of: typeof facts) =>
    unitsOf(facts).reduce(
      (sum, unit) => sum + totalOf(costOf(of, unit, { life: upTo(lifeOf(facts, unit), END), span: { from: START, to: UNTIL } })),
      0,
    );
  const said = expected.reduce((sum, { difference }) => sum + Number(difference), 0);
  expect(Math.abs(said - (by(facts) - by(plain)))).toBeLessThan(CENT);
});

test("days that prices, commitments and late news changed leave a trace of what changed, by how much and by whom", async () => {
  const corrections = await correctionsOf(story.services, DEMO_ACTOR, { from: "2027-03-01", to: "2027-04-06" });
  const text = JSON.stringify(corrections);
  for (const cause of ["discount of 10 %", "price of", "commitment of 8"]) expect(text).toContain(cause);
});

test("a plan is projected month by month as a slow walk through its hours says: Easter, clock changes and dated rows in the month they fall in", async () => {
  const { services } = story;
  const { facts } = slow(END);
  const world = await loadSnapshot(services);
  const schedules = compileAll(world.schedules, world.calendars);
  for (const { id, inForce } of world.fleets) {
    if (!inForce || inForce.name === "harbour" || inForce.starts === "hand") continue;
    const basis = await projectionBasis(services, DEMO_ACTOR, { selector: inForce.select, fleetId: id, view: "before" });
    const lines = sizedLines(decodeLines(basis.projected), inForce);
    const months = monthsFrom(utc(3, 1), 3);
    const capabilities = new Map(basis.capabilities);
    const resources = basis.lines.map(({ resource }) => resource);
    const evidence = {};
    const { alwaysOn, steps } = projectPlan({
      plan: inForce,
      lines,
      resources,
      schedules,
      capabilities,
      evidence,
      months,
      days: basis.days,
      spare: null,
    });
    const units = lines.map(({ id: own }) => unitsOf(facts).find((unit) => keyOf(unit) === own) as Unit);
    months.forEach(({ name, from, to }, m) => {
      const span = { from, to };
      const cost = (lifeOfUnit: (unit: Unit) => Life) =>
        units.reduce((sum, unit) => sum + totalOf(costOf(facts, unit, { life: lifeOfUnit(unit), span, pricesAt: END })), 0);
      const always = cost((unit) => [{ at: from, state: "running", level: story.plans().ownSize(unit) }]);
      const plans = { ...story.plans(), holds: [] };
      const byHours = cost((unit) => {
        const before: Life = [{ at: from - 9 * DAY, state: "running", level: story.plans().ownSize(unit) }];
        // What no hours speak for is not part of the walk: it stays as it was before.
        return fleetOf(unit, plans)?.hours(unit) === null
          ? []
          : lifeAhead(unit, before, { from: from - 8 * DAY, to: to + DAY, plans });
      });
      const left = units.reduce(
        (sum, unit, i) =>
          sum + (fleetOf(unit, plans)?.hours(unit) === null ? Number(steps[0]?.after.lines[i]?.[m] ?? 0n) / 2.628e15 : 0),
        0,
      );
      expect
        .soft(
          Math.abs(euros(alwaysOn.gross[m] ?? 0n) - always),
          `${inForce.name} ${name} always on ${euros(alwaysOn.gross[m] ?? 0n)} ${always}`,
        )
        .toBeLessThan(0.001);
      expect
        .soft(
          Math.abs(euros(steps[0]?.after.gross[m] ?? 0n) - left - byHours),
          `${inForce.name} ${name} by hours ${euros(steps[0]?.after.gross[m] ?? 0n)} ${byHours}`,
        )
        .toBeLessThan(0.001);
    });
  }
});

test("realised savings are the ledger's: what was paid, always on, and as it ran before the plan, at the prices of each day", async () => {
  const { facts, known } = slow(END);
  const view = await realisedView(story.services, DEMO_ACTOR, { fleet: null, view: "before" });
  const stored = await realisedDays(story.services.pool, { from: dayOf(START), to: dayOf(END) });
  for (const one of stored) {
    const day = Date.parse(one.day) / 1000;
    const members = unitsOf(facts).filter((unit) => {
      const team = unit.name === "desk-osl-05" && day < utc(3, 21) ? "draughting" : (unit.tags.team ?? "");
      const { state } = upTo(known(unit), day).at(-1) ?? known(unit).find(({ at }) => at < day + DAY) ?? { state: "gone" };
      return state !== "gone" && fleetOf(unit, { teamOf: () => team })?.name === one.fleet && !isGuarded(unit);
    });
    const paid = members.reduce(
      (sum, unit) => sum + totalOf(costOf(facts, unit, { life: known(unit), span: { from: day, to: day + DAY } })),
      0,
    );
    expect.soft(Math.abs(euros(one.paid) - paid), `${one.day} ${one.fleet} paid ${euros(one.paid)} ${paid}`).toBeLessThan(0.0001);
    const isNew = (unit: Unit) => unit.name === "build-99";
    const always = members.reduce((sum, unit) => {
      const span = { from: day, to: day + DAY };
      const life = isNew(unit) ? known(unit) : [{ at: day, state: "running" as const, level: story.plans().ownSize(unit) }];
      return sum + totalOf(costOf(facts, unit, { life, span }));
    }, 0);
    expect
      .soft(Math.abs(euros(one.alwaysOn) - always), `${one.day} ${one.fleet} always on ${euros(one.alwaysOn)} ${always}`)
      .toBeLessThan(0.0001);
    const basis = [1, 2, 3, 4].map((week) => day - (Math.ceil((day - START + 1) / (7 * DAY)) - 1 + week) * 7 * DAY);
    const before = members.reduce((sum, unit) => {
      if (isNew(unit)) return sum + totalOf(costOf(facts, unit, { life: known(unit), span: { from: day, to: day + DAY } }));
      const ran = basis.map((from) =>
        totalOf(costOf(facts, unit, { life: unit.life, span: { from, to: from + DAY }, pricesAt: day })),
      );
      return sum + ran.reduce((all, own) => all + own, 0) / ran.length;
    }, 0);
    expect
      .soft(Math.abs(euros(one.before ?? 0n) - before), `${one.day} ${one.fleet} as it ran ${euros(one.before ?? 0n)} ${before}`)
      .toBeLessThan(0.001);
    expect
      .soft(
        GAP_CAUSES.reduce((sum, cause) => sum + one.gap[cause], 0n),
        `${one.day} ${one.fleet} causes`,
      )
      .toBe(one.paid - one.projected);
    const unexplained = Math.abs(euros(one.gap.unexplained));
    expect.soft(unexplained, `${one.day} ${one.fleet} unexplained ${unexplained} of ${paid}`).toBeLessThan(paid / 100);
  }
  const fleets = new Set(stored.map(({ fleet }) => fleet));
  expect([...fleets].sort()).toEqual([
    "archive-index",
    "desks-auckland",
    "desks-oslo",
    "desks-santiago",
    "replay-pools",
    "sonar",
    "training",
    "viewer-tiles",
  ]);
  const paidShown = view.fleets.reduce((sum, { paid }) => sum + Math.round(number(paid) * 100), 0);
  expect(paidShown).toBe(Math.round(number(view.total.paid) * 100));
  const paidAll = stored.reduce((sum, { paid }) => sum + euros(paid), 0);
  expect(Math.abs(number(view.total.paid) - paidAll)).toBeLessThan(2 * CENT);
  // After commitments what they carried is in neither column, and the saving is less by what they had paid for anyway alone.
  const after = await realisedView(story.services, DEMO_ACTOR, { fleet: null, view: "after" });
  const carried = stored.reduce((sum, { covered }) => sum + euros(covered), 0);
  const anyway = stored.reduce((sum, { coveredAnyway }) => sum + euros(coveredAnyway), 0);
  expect(carried).toBeGreaterThan(1);
  expect(Math.abs(number(after.total.paid) - (paidAll - carried))).toBeLessThan(2 * CENT);
  expect(Math.abs(number(after.total.saved) - (number(view.total.saved) - anyway))).toBeLessThan(2 * CENT);
  expect(number(after.total.baseline) - number(after.total.paid)).toBeCloseTo(number(after.total.saved), 6);
});
