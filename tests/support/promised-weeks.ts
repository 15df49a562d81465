import type { MoneyView } from "@/core/pricing";
import { DEMO_ACTOR, WORKER } from "@/services/admin";
import {
  type Basis,
  burnPage,
  closeSpendDays,
  fleetsMoney,
  foretellToday,
  learnLikelyUse,
  measureSavings,
  projectionBasis,
  spendNow,
  timeStrip,
} from "@/services/cost";
import { readMetrics } from "@/services/metrics";
import { composeReport, scopeOf } from "@/services/report/compose";
import { fleetList, leverDays, type StoredLeverDay } from "@/store";
import { DAY, type World } from "../../standin/world/types";
import { EVERYTHING } from "./burn-query";
import { metered } from "./promises";
import { HOUR, startTrusted, type Trusted } from "./trusted";

/**
 * Weeks of five fleets, by plans of every lever, whose people go on as in the weeks before: desks that anybody takes, trial boxes under
 * idle alarms whose owners start them again, builds by hours, a group at a mix by hours, and boxes that nothing turns off. At five
 * instants every page that tells of time to come is asked; what came is the meter's.
 */
export const PLAN = `
umbrik: 1
schedules:
  - name: pool
    zone: Europe/Oslo
    rows:
      - { day: workdays, spans: ["07:30-08:15 x8", "08:15-15:00 x12"] }
  - name: office
    zone: Europe/Oslo
    rows:
      - { day: workdays, spans: ["07:00-19:00"] }
  - name: viewers
    zone: Europe/Oslo
    outside: 3
    rows:
      - { day: daily, spans: ["07:00-21:00 x9"] }
fleets:
  - { name: pool, select: "name ~ desk-osl*", hours: pool, lead: 10, offAction: hibernate, pooled: { spare: 2, settle: 10 } }
  - name: lab
    select: name ~ sonar-*
    idle:
      - match: all
        conditions: [{ metric: cpu, statistic: mean, op: "<", threshold: 8, window: 120 }]
        warn: 15
        settle: 30
  - { name: builds, select: name ~ build-*, hours: office }
  - name: tiles
    select: name = viewer-tiles-north
    hours: viewers
    mix:
      wanted: 9
      firm: 3
      firmPrice: 0.168
      setupMinutes: 4
      eviction: drop
      order: even
      refillEveryMinutes: 5
      fallbackAfterMinutes: 20
      returnAfterMinutes: 60
      pools:
        - { name: "sloop-4 fjord-1a", price: 0.06, hazard: { shape: 1, rate: 100 } }
        - { name: "sloop-4 fjord-1b", price: 0.06, hazard: { shape: 1, rate: 100 } }
        - { name: "sloop-4 fjord-1c", price: 0.06, hazard: { shape: 1, rate: 100 } }
`;
export const PARTS: Readonly<Record<string, RegExp>> = {
  pool: /^desk-osl/,
  lab: /^sonar-\d/,
  builds: /^build-/,
  tiles: /^viewer-tiles-north/,
  tides: /^tide-\d/,
};
const END_OF_MONTH = Date.UTC(2027, 3, 1) / 1000;
const at = (day: number, hour: number, minute = 0) => Date.UTC(2027, 2, day, hour, minute) / 1000;

/** From a Monday morning on; asked in an evening, a morning, by day, at a weekend and before work, as far as that lies in it. */
const ASKS = [at(16, 20), at(18, 6, 30), at(19, 12), at(20, 10), at(22, 5), at(23, 20), at(25, 6, 30), at(26, 12), at(27, 10)];
export const FROM = { first: at(15, 4), short: at(22, 4) } as const;

/** What was told at an instant of a part until another, in which view, and what came. */
export type Told = Readonly<{ part: string; from: number; to: number; told: number; came: number }>;

/** What was promised and came; `unlike`: what two pages said otherwise of one thing; and levers by the day. */
export type PromisedWeeks = Readonly<{
  told: readonly Told[];
  unlike: readonly string[];
  days: readonly StoredLeverDay[];
  /** What was kept of each day as foretold when it had just begun. */
  kept: readonly Kept[];
  /** What the workbench of the lab says that its levers have come to. */
  soFar: Basis["soFar"];
}>;

export async function promisedWeeks(start: number): Promise<PromisedWeeks> {
  const trusted = await startTrusted(PLAN, ["pool", "lab", "builds", "tiles"], {
    at: start,
    accounts: ["skerry-desks", "skerry-survey"],
    prepare: (world) => {
      world.units = world.units.filter(({ name }) => Object.values(PARTS).some((part) => part.test(name)));
      world.owners = true;
    },
  });
  try {
    return await goThrough(trusted);
  } finally {
    await trusted.close();
  }
}

async function goThrough(trusted: Trusted): Promise<PromisedWeeks> {
  const { services, keeper } = trusted;
  const asks = ASKS.filter((ask) => ask > keeper.now());
  const promises: Omit<Told, "came">[] = [];
  const unlike: string[] = [];
  const kept: Kept[] = [];
  let learned = 0;
  while (keeper.now() < END_OF_MONTH) {
    const next = Math.min(END_OF_MONTH, asks[0] ?? END_OF_MONTH, nextLook(keeper.now()));
    keeper.stepTo(next);
    await trusted.round();
    const day = Math.floor(keeper.now() / DAY);
    if (day > learned) {
      learned = day;
      await readMetrics(services, WORKER);
      await closeSpendDays(services, WORKER);
      await learnLikelyUse(services, WORKER);
      await measureSavings(services, WORKER);
      // Kept before the day is known: what it is held to later is this.
      await foretellToday(services, WORKER);
      kept.push(...(await keptFor(services, day)));
    }
    if (keeper.now() < (asks[0] ?? Number.POSITIVE_INFINITY)) continue;
    asks.shift();
    promises.push(...(await promisesOf(trusted, unlike)));
  }
  const { world } = keeper;
  const told = promises.map((one) => ({ ...one, came: metered(partOf(world, one.part), one) }));
  const days = await leverDays(services.pool, { from: "2027-03-01", to: "2027-03-31" });
  const lab = (await fleetList(services.pool)).find(({ name }) => name === "lab");
  const basis = await projectionBasis(services, DEMO_ACTOR, { selector: "name ~ sonar-*", fleetId: lab?.id ?? null });
  return { told, unlike, days, kept, soFar: basis.soFar };
}

type Kept = Readonly<{ day: string; fleet: string; lever: string; p50: string }>;

async function keptFor({ pool }: Trusted["services"], day: number): Promise<Kept[]> {
  const { rows } = await pool.query<Kept>(
    "select day, fleet, lever, p50::text as p50 from lever_day where day = $1::date and saved is null",
    [new Date(day * DAY * 1000).toISOString().slice(0, 10)],
  );
  return rows;
}

function partOf({ seed, units }: World, part: string): Pick<World, "seed" | "units"> {
  return { seed, units: part === "all" ? units : units.filter(({ name }) => PARTS[part]?.test(name)) };
}

const GLOBS: Readonly<Record<string, string>> = {
  pool: "desk-osl*",
  lab: "sonar-*",
  builds: "build-*",
  tiles: "viewer-tiles-north*",
  tides: "tide-??",
};

/** What Burn tells of each part until the month's end, the strip of the coming day and the hour, and whether other pages say the same. */
async function promisesOf({ services, keeper }: Trusted, unlike: string[]): Promise<Omit<Told, "came">[]> {
  const from = keeper.now();
  const promises: Omit<Told, "came">[] = [];
  const view: MoneyView = "before";
  const pageOf = (part: string, then: number | null, seen: MoneyView = view) =>
    burnPage(services, DEMO_ACTOR, {
      ...EVERYTHING,
      view: seen,
      filters: part === "all" ? [] : [`name ~ ${GLOBS[part]}`],
      at: then,
    });
  for (const part of ["all", ...Object.keys(PARTS)]) {
    const { shown } = await pageOf(part, null);
    // The daily mail of the same scope, whichever money it tells.
    const { running, view: mailed } = await composeReport(services, scopeOf(part === "all" ? "" : `name ~ ${GLOBS[part]}`));
    const { shown: asMailed } = mailed === view ? { shown } : await pageOf(part, null, mailed);
    if (running.byMonthEnd !== asMailed.byMonthEnd || running.perHour !== asMailed.perHour)
      unlike.push(
        `${new Date(from * 1000).toISOString()}: the mail of ${part} ${running.byMonthEnd}, Burn ${asMailed.byMonthEnd}`,
      );
    promises.push({ part, from, to: END_OF_MONTH, told: numberOf(shown.byMonthEnd) - numberOf(shown.month) });
  }
  const strip = await timeStrip(services, DEMO_ACTOR, { view });
  const first = Math.ceil(from / HOUR) * HOUR;
  const hours = strip.micros.slice((first - strip.from) / HOUR).map((micros) => micros / 1e6);
  promises.push({ part: "all", from: first, to: first + HOUR, told: hours[0] ?? 0 });
  promises.push({
    part: "all",
    from: first,
    to: first + 24 * HOUR,
    told: hours.slice(0, 24).reduce((sum, hour) => sum + hour, 0),
  });
  const now = (await pageOf("all", null)).shown;
  const [fleets, command] = [
    await fleetsMoney(services, DEMO_ACTOR, { at: null, view }),
    await spendNow(services, DEMO_ACTOR, view),
  ];
  const said = new Date(from * 1000).toISOString();
  if (fleets.all.byMonthEnd !== now.byMonthEnd) unlike.push(`${said}: fleets ${fleets.all.byMonthEnd}, Burn ${now.byMonthEnd}`);
  if (Math.abs(Number(command.byMonthEnd) - numberOf(now.byMonthEnd)) > 0.0051)
    unlike.push(`${said}: the command ${command.byMonthEnd}, Burn ${now.byMonthEnd}`);
  // An hour in which nothing is due to change costs in the strip what the page of then says that it costs.
  for (const [i, hour] of hours.entries()) {
    if (i % 3 !== 0) continue;
    const begin = first + i * HOUR;
    const rates = await Promise.all([begin + 1, begin + HOUR / 2, begin + HOUR - 1].map((then) => pageOf("all", then)));
    const [rate = "", ...others] = rates.map(({ shown }) => shown.perHour);
    if (others.every((other) => other === rate) && Math.abs(numberOf(rate) - hour) > 0.0111)
      unlike.push(`${said}, ${i} h on: ${rate} by the page of then, ${hour.toFixed(4)} in the strip`);
  }
  return promises;
}

function numberOf(text: string | null): number {
  return Number((text ?? "").replaceAll(/[^\d.-]/g, ""));
}

/** Every quarter of an hour while people come and go, half an hour by day, an hour by night. */
function nextLook(now: number): number {
  const date = new Date(now * 1000);
  const hour = date.getUTCHours();
  if (date.getUTCDay() % 6 === 0) return now + HOUR;
  if (hour >= 5 && hour < 9) return now + HOUR / 4;
  return now + (hour >= 9 && hour < 19 ? HOUR / 2 : HOUR);
}
