import { type CompiledSchedule, compileSchedule, expand, type Level, scheduleSchema, withLead } from "@/core/hours";
import { type FleetPlan, fleetSchema, isGuarded, isSchedulable, type Resource } from "@/core/plan";
import { type Amount, amountOf, computePerSecond, NO_AMOUNT } from "@/core/pricing";
import { addCompared, compareDay, type DayOfResource, type DueSpan } from "@/core/realised";
import { claimer, hoursFinder, whyNoHibernation } from "@/core/rounds";
import { cardAt, costOver, type LifeSpan, totalOf } from "@/core/spend";
import { DAY_S, dayNumber, formatDate, type Instant, MINUTE_S } from "@/core/time";
import {
  changesBetween,
  closedDay,
  firstChanges,
  firstInForce,
  fullInventory,
  holdsBetween,
  livesOf,
  type Prices,
  plansAt,
  priceBooks,
  type RealisedDay,
  realisedDays,
  type SpendDay,
  saveRealised,
  signal,
  spendDayList,
  troubledActions,
} from "@/store";
import { authorise, type Person, type Services } from "../../admin";
import { compileAll, loadWorld, type StoredWorld } from "../../inventory";
import { cardsOf } from "../cards";

/** How far back days are reckoned that are missing. */
const BACK_DAYS = 62;
const BEFORE_DAYS = 28;

/** Reckons what hours were worth on the closed days since each fleet's plan was put in force. Safe to repeat. */
export async function realiseDays(services: Services, person: Person, stopping?: AbortSignal): Promise<{ days: number }> {
  authorise(person, "run rounds");
  const { pool } = services;
  const [closed, began] = await Promise.all([closedDay(pool), firstInForce(pool)]);
  if (closed === null || began.size === 0) return { days: 0 };
  const last = dayNumber(closed);
  const first = Math.max(last - BACK_DAYS, Math.floor(Math.min(...began.values()) / DAY_S) + 1);
  const known = new Set(
    (await realisedDays(pool, { from: formatDate(first), to: closed })).map(({ day, fleet }) => `${day} ${fleet}`),
  );
  let days = 0;
  for (let day = first; day <= last; day++) {
    if (stopping?.aborted) break;
    const wanted = [...began].filter(([fleet, at]) => at < day * DAY_S && !known.has(`${formatDate(day)} ${fleet}`));
    if (wanted.length === 0) continue;
    const lines = await realiseDay(services, { day, began: new Map(wanted) });
    for (const line of lines) await saveRealised(pool, line);
    days += lines.length;
  }
  if (days > 0) await signal(pool, "spend");
  return { days };
}

type Day = Readonly<{ day: number; began: ReadonlyMap<string, Instant> }>;

async function realiseDay(services: Services, { day, began }: Day): Promise<RealisedDay[]> {
  const { pool } = services;
  const [from, to] = [day * DAY_S, (day + 1) * DAY_S];
  const [stored, ever, prices, versions, holds, changes, troubled] = await Promise.all([
    loadWorld(services),
    fullInventory(pool),
    priceBooks(pool),
    plansAt(pool, from),
    holdsBetween(pool, { from, to }),
    changesBetween(pool, { from: from - DAY_S, to }),
    troubledActions(pool, { from, to }),
  ]);
  const world: StoredWorld = { ...stored, schedulable: ever.filter(isSchedulable) };
  const plans = stored.fleets.flatMap((fleet) => {
    const version = versions.get(fleet.id);
    return version ? [planOf(version)] : [];
  });
  const claim = claimer(plans.map(({ plan }) => plan));
  const members = new Map<string, Resource[]>();
  for (const resource of world.schedulable) {
    const name = claim(resource)?.name;
    if (name !== undefined && !isGuarded(resource)) members.set(name, [...(members.get(name) ?? []), resource]);
  }
  const evictions = changes.filter(({ type }) => type === "evicted");
  const results: RealisedDay[] = [];
  for (const { plan, schedule } of plans) {
    const at = began.get(plan.name);
    // What has no price has no money to compare.
    const own = (members.get(plan.name) ?? []).filter(({ fields }) => world.capabilities.has(fields.provider ?? ""));
    if (at === undefined || plan.hours === undefined || own.length === 0) continue;
    const ids = own.map(({ id }) => id);
    const [lives, firsts] = await Promise.all([livesOf(pool, ids, { from, to: to + 1 }), firstChanges(pool, ids)]);
    const spend = await spendDayList(pool, { from: formatDate(day), to: formatDate(day), ids });
    const schedules = new Map(compileAll(world.schedules, world.calendars));
    if (schedule) schedules.set(schedule.schedule.name, schedule);
    const find = hoursFinder(schedules, world.capabilities);
    const compared = own.map((resource) =>
      compareDay(
        dayOf(resource, {
          window: { from, to },
          plan,
          planAt: at,
          prices,
          world,
          find,
          life: lives.get(resource.id) ?? [],
          firstAt: firsts.get(resource.id) ?? null,
          spend: spend.find(({ resourceId }) => resourceId === resource.id),
          holds: holds.filter((hold) => hold.resourceId === resource.id || hold.fleet === plan.name),
          failed: troubled.filter(({ resourceId }) => resourceId === resource.id),
          evictedAt: evictions.filter(({ resourceId }) => resourceId === resource.id).map((change) => change.at),
        }),
      ),
    );
    const { paid, projected, gap } = addCompared(compared);
    const before = await beforeOf(services, { ids, at, day });
    const covered = spend.reduce((sum, { cost }) => sum + cost.covered, 0n);
    results.push({
      day: formatDate(day),
      fleet: plan.name,
      lever: "hours",
      alwaysOn: alwaysOnOf(own, { prices, world, at: from, highest: await highestLevels(services, ids, at) }),
      before: before?.cost ?? null,
      paid,
      projected,
      swallowed: (before && before.covered > covered ? before.covered - covered : 0n) as Amount,
      gap,
    });
  }
  return results;
}

type Version = Awaited<ReturnType<typeof plansAt>> extends Map<number, infer V> ? V : never;

/** A version as a plan, with the schedule that it was put in force with, where it carries one. */
function planOf({ schedule: own, ...draft }: Version): { plan: FleetPlan; schedule: CompiledSchedule | null } {
  const plan = fleetSchema.parse({ ...draft, hours: draft.hours ?? undefined });
  const parsed = own ? scheduleSchema.safeParse(own) : null;
  // One that follows a calendar is compiled with it elsewhere.
  return { plan, schedule: parsed?.success && parsed.data.calendar === undefined ? compileSchedule(parsed.data) : null };
}

type Reading = Readonly<{
  window: { from: Instant; to: Instant };
  plan: FleetPlan;
  planAt: Instant;
  prices: Prices;
  world: StoredWorld;
  find: ReturnType<typeof hoursFinder>;
  life: readonly LifeSpan[];
  /** When the feed first told of it; null where it never did. */
  firstAt: Instant | null;
  spend: SpendDay | undefined;
  holds: readonly { from: Instant; to: Instant }[];
  failed: readonly { from: Instant; to: Instant }[];
  evictedAt: readonly Instant[];
}>;

function dayOf(resource: Resource, reading: Reading): DayOfResource {
  const { window, plan, planAt, prices, world, find, life, spend } = reading;
  const cards = cardsOf(prices, world.capabilities);
  const planCard = cardAt(cards(resource, planAt, planAt + 1) ?? [], planAt);
  if (!planCard) throw new Error(`${resource.id} has no price`);
  const hours = find(resource, plan);
  const highest = resource.kind === "machine" ? 1 : resource.levelMax;
  const leadS = plan.lead * MINUTE_S;
  const due: readonly DueSpan[] =
    hours.kind === "schedule"
      ? withLead(expand(hours.compiled, window.from, window.to + leadS), leadS).map(({ from, to, level }) => ({
          from,
          to,
          level: level === null ? null : (Math.min(level, highest) as Level),
        }))
      : [{ ...window, level: null }];
  const own = world.capabilities.get(resource.fields.provider ?? "");
  const planCards = [{ from: Number.NEGATIVE_INFINITY, card: planCard }];
  const atPlanPrices = costOver({ life, cards: planCards, ...window, knownTo: window.to + 1 });
  return {
    ...window,
    life,
    due,
    planCard,
    paid: (spend ? totalOf(spend.cost) + spend.cost.covered : 0n) as Amount,
    paidAtPlanPrices: totalOf(atPlanPrices),
    hibernates: plan.offAction === "hibernate" && own !== undefined && whyNoHibernation(resource, own) === null,
    startsByHand: plan.starts === "hand",
    isNew: reading.firstAt !== null && reading.firstAt > planAt,
    isGone: resource.state === "gone" && life.every(({ state }) => state === "gone"),
    held: reading.holds,
    failed: reading.failed,
    evictedAt: reading.evictedAt,
  };
}

/** What the same weekday cost on average in the four weeks before the plan; null without any such day. */
async function beforeOf(
  { pool }: Services,
  { ids, at, day }: { ids: readonly string[]; at: Instant; day: number },
): Promise<{ cost: Amount; covered: bigint } | null> {
  const end = Math.floor(at / DAY_S) - 1;
  const wanted = Array.from({ length: BEFORE_DAYS }, (_, i) => end - i).filter((one) => (one - day) % 7 === 0);
  const [first, last] = [wanted.at(-1), wanted[0]];
  if (first === undefined || last === undefined) return null;
  const dates = new Set(wanted.map(formatDate));
  const spend = (await spendDayList(pool, { from: formatDate(first), to: formatDate(last), ids })).filter((one) =>
    dates.has(one.day),
  );
  const days = BigInt(new Set(spend.map((one) => one.day)).size);
  if (days === 0n) return null;
  const sum = spend.reduce((total, { cost }) => total + totalOf(cost) + cost.covered, 0n);
  const covered = spend.reduce((total, { cost }) => total + cost.covered, 0n);
  return { cost: (sum / days) as Amount, covered: covered / days };
}

/** The highest level each had in the four weeks before the plan: what always on means for a group or a service. */
async function highestLevels({ pool }: Services, ids: readonly string[], at: Instant): Promise<Map<string, number>> {
  const lives = await livesOf(pool, ids, { from: at - BEFORE_DAYS * DAY_S, to: at });
  return new Map([...lives].map(([id, life]) => [id, Math.max(...life.map(({ level }) => level))]));
}

function alwaysOnOf(
  resources: readonly Resource[],
  { prices, world, at, highest }: { prices: Prices; world: StoredWorld; at: Instant; highest: ReadonlyMap<string, number> },
): Amount {
  const cards = cardsOf(prices, world.capabilities);
  return resources.reduce<bigint>((sum, resource) => {
    const card = cardAt(cards(resource, at, at + 1) ?? [], at);
    if (!card) return sum;
    const level = (resource.kind === "machine" ? 1 : Math.max(1, highest.get(resource.id) ?? 1)) as Level;
    return sum + amountOf(DAY_S, (computePerSecond(card, level) + card.always + card.addressesOn) as never);
  }, NO_AMOUNT) as Amount;
}
