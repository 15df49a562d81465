import type { Level } from "@/core/hours";
import { leversPulled, savedByLever } from "@/core/levers";
import type { SizeSeen } from "@/core/mix";
import { capabilitiesFor, type FleetPlan, listedAt, type Resource } from "@/core/plan";
import { type Amount, type CoverRun, coveredByAny, coverOver, type DatedCard, divideHalfEven, NO_AMOUNT } from "@/core/pricing";
import type { Percentile } from "@/core/projection";
import { addCompared, compareDay, type DayOfResource, type DueStretch, withUnits } from "@/core/realised";
import { dueOver, highestLevel, whyNoHibernation } from "@/core/rounds";
import { billedRuns, cardAt, costOver, type LifeSpan, totalOf } from "@/core/spend";
import { DAY_S, dayNumber, formatDate, type Instant, weekdayIndex } from "@/core/time";
import {
  type Fleet,
  type Forecasts,
  fleetList,
  fullInventory,
  type RealisedDay,
  realisedDays,
  saveRealised,
  signal,
  spendClosed,
} from "@/store";
import { type Actor, authorise, ESTATE, type Services } from "../../admin";
import { type Claim, followingOf } from "../../inventory";
import { observedInRegion } from "../../mix";
import { cardsOf } from "../cards";
import { type Baseline, type BasisLives, baselineOf, basisDaysOf, basisLives, datesOf } from "./baseline";
import { type Member, type RealisedInput, readRealisedDay } from "./day";
import { idleForecastOf } from "./idle-forecast";
import { addForecasts, mixForecastOf, withMix } from "./mix";
import { readyForecastOf } from "./ready-forecast";

/** How far back days are measured that are missing. */
const BACK_DAYS = 62;
const NEW_DAYS = 28;

/** Measures what hours were worth on the closed days since each fleet's plan was put in force. Safe to repeat. */
export async function measureSavings(services: Services, actor: Actor, stopping?: AbortSignal): Promise<{ days: number }> {
  authorise(actor, "work", ESTATE);
  const { pool } = services;
  // The epoch is read first: what is measured under it is not stored when days were opened meanwhile.
  const { day: closed, epoch } = await spendClosed(pool);
  const fleets = (await fleetList(pool)).filter(({ firstInForceAt }) => firstInForceAt !== null);
  if (closed === null || fleets.length === 0) return { days: 0 };
  const last = dayNumber(closed);
  const began = (fleet: Fleet) => Math.floor((fleet.firstInForceAt as Instant) / DAY_S);
  const first = Math.max(last - BACK_DAYS, Math.min(...fleets.map(began)) + 1);
  const known = new Set(
    (await realisedDays(pool, { from: formatDate(first), to: closed })).map(({ day, fleet }) => `${day} ${fleet}`),
  );
  let days = 0;
  for (let day = first; day <= last; day++) {
    if (stopping?.aborted) break;
    const wanted = fleets.filter((fleet) => began(fleet) < day && !known.has(`${formatDate(day)} ${fleet.name}`));
    if (wanted.length === 0) continue;
    const measured = await measureDay(services, day, wanted);
    if (!(await saveRealised(pool, measured, epoch))) break;
    days += measured.length;
  }
  if (days > 0) await signal(pool, "spend");
  return { days };
}

async function measureDay(services: Services, day: number, wanted: readonly Fleet[]): Promise<RealisedDay[]> {
  const input = await readRealisedDay(services, day);
  const results: RealisedDay[] = [];
  for (const measuring of await measuringsOf(services, input, wanted))
    results.push(await measureFleet(services, input, measuring));
  return results;
}

/** The fleets that are to be measured on a day, with their members and what they are held to. */
export async function measuringsOf(services: Services, input: RealisedInput, wanted: readonly Fleet[]): Promise<Measuring[]> {
  const day = input.from / DAY_S;
  const results: Measuring[] = [];
  for (const { id, plan, planAt, members } of input.fleets) {
    const fleet = wanted.find((one) => one.id === id);
    // What has no price has no money to compare.
    const own = members.filter(({ resource }) => capabilitiesFor(resource, input.snapshot.capabilities) !== undefined);
    if (!fleet || leversPulled(plan).length === 0 || own.length === 0) continue;
    const days = basisDaysOf(fleet, input.from).filter((one) => weekdayIndex(one) === weekdayIndex(day));
    const basis = await basisLives(
      services.pool,
      own.map(({ resource }) => resource.id),
      days,
    );
    results.push({ fleet, plan, size: plan.size, planAt, own, basis });
  }
  return results;
}

type Measuring = Readonly<{
  fleet: Fleet;
  plan: FleetPlan;
  size: number | undefined;
  planAt: Instant;
  own: readonly Member[];
  basis: BasisLives;
}>;
/** `seen`: null where nothing was given to it by a mix. */
type MeasuringOne = Measuring & Readonly<{ seen: ReadonlyMap<string, SizeSeen> | null }>;

type Measured = Readonly<{
  member: Member;
  compared: ReturnType<typeof compareDay>;
  baseline: Baseline;
  isNew: boolean;
  due: readonly DueStretch[];
  /** What its mix was expected to save. */
  mix: Percentile | null;
}>;

/** What each member of a fleet did on a day, and was to do. */
export async function measureMembers(services: Services, input: RealisedInput, measuring: Measuring): Promise<Measured[]> {
  const measured: Measured[] = [];
  for (const member of measuring.own) {
    const { provider = "", region = "" } = member.resource.fields;
    const isMixed = measuring.plan.mix !== undefined && input.membersOfGroup(member.resource.id).length > 0;
    // What a mix was expected to save rests on what was seen by then.
    const seen = isMixed ? await observedInRegion(services.pool, { provider, region }, input.from) : null;
    measured.push(measureOne(member, input, { ...measuring, seen }));
  }
  return measured;
}

/** What the levers of a fleet that nobody can know before were expected to save on a day, from what was known when it began. */
export async function forecastsOf(
  services: Services,
  input: RealisedInput,
  { fleet, own, measured }: Readonly<{ fleet: string; own: readonly Member[]; measured: readonly Measured[] }>,
): Promise<Forecasts> {
  return {
    ready: await readyForecastOf(services, input, { fleet, own: measured }),
    idle: await idleForecastOf(services, input, own),
    mix: addForecasts(measured.map(({ mix }) => mix)),
  };
}

async function measureFleet(services: Services, input: RealisedInput, measuring: Measuring): Promise<RealisedDay> {
  const { fleet, basis } = measuring;
  const measured = await measureMembers(services, input, measuring);
  const { paid, projected, priceEffect, gap } = addCompared(measured.map(({ compared }) => compared));
  const sum = (of: (one: Measured) => bigint) => measured.reduce((total, one) => total + of(one), 0n) as Amount;
  // What came after the plan neither saves nor loses in its first days: it is compared with itself.
  const before = (one: Measured) => (one.isNew ? one.compared.paid : (one.baseline.before ?? one.baseline.alwaysOn));
  const alwaysOn = (one: Measured) => (one.isNew ? one.compared.paid : one.baseline.alwaysOn);
  const cover = await coveredAnywayBy(services, input, measured);
  const baseline = basis.length === 0 ? sum(alwaysOn) : sum(before);
  return {
    day: formatDate(input.from / DAY_S),
    fleet: fleet.name,
    alwaysOn: sum(alwaysOn),
    before: basis.length === 0 ? null : baseline,
    basis: datesOf(basis.map(({ day }) => day)),
    paid,
    covered: sum(({ member: { resource } }) => coveredOf(resource.id, input)),
    projected,
    priceEffect,
    ...cover,
    gap,
    levers: savedByLever({
      pulled: [...leversPulled(measuring.plan), ...(measuring.plan.pooled ? (["ready"] as const) : [])],
      saved: baseline - paid,
      gap,
      forecasts: {
        // By hours alone a day is known to the cent before it comes.
        hours: certainly(baseline - projected - gap["new resources"] - gap["gone resources"]),
        ...(await forecastsOf(services, input, { fleet: fleet.name, own: measuring.own, measured })),
      },
    }),
  };
}

/** What commitments carried on the day of a resource, and of what a mix had given it. */
function coveredOf(id: string, { spend, membersOfGroup }: RealisedInput): bigint {
  const ids = [id, ...membersOfGroup(id).map(({ resourceId }) => resourceId)];
  return ids.reduce((sum, one) => sum + (spend.get(one)?.cost.covered ?? 0n), 0n);
}

function certainly(amount: bigint): Percentile {
  return { p5: amount as Amount, p50: amount as Amount, p95: amount as Amount };
}

function measureOne(member: Member, input: RealisedInput, { fleet, size, planAt, basis, seen }: MeasuringOne): Measured {
  const { resource, overTime, claim } = member;
  const { from, to, snapshot, prices, lives, spend } = input;
  const cardsOver = cardsOf(prices, snapshot.capabilities);
  const cards = reaching(cardsOver(overTime, from, to) ?? []);
  const planCard = cardAt(cardsOver(resource, planAt, planAt + 1) ?? [], planAt);
  if (!planCard) throw new Error(`${resource.id} has no price`);
  const life = lives.get(resource.id) ?? [];
  const endedAt = life.find(({ state, from: start }) => state === "gone" && start > from)?.from ?? null;
  const firstAt = input.firstAt.get(resource.id) ?? null;
  const cameLater = firstAt !== null && fleet.firstInForceAt !== null && firstAt > fleet.firstInForceAt;
  const isNew = cameLater && from < (firstAt ?? 0) + NEW_DAYS * DAY_S;
  const own = spend.get(resource.id);
  const capabilities = capabilitiesFor(resource, snapshot.capabilities);
  const actions = input.actionsOn(resource.id);
  const due = dueStretches(resource, claim, { from, to });
  const given = input.membersOfGroup(resource.id);
  const combined =
    given.length === 0
      ? life
      : withUnits(
          life,
          given.map(({ resourceId, units }) => ({ life: lives.get(resourceId) ?? [], units })),
          { from: life[0]?.from ?? from, to },
        );
  const costOf = (of: readonly LifeSpan[]) => totalOf(costOver({ life: of, cards, from, to, knownTo: to + 1 }));
  // What its members would have cost as units of the group itself, and what they did.
  const asOwn = given.length === 0 ? 0n : costOf(combined) - costOf(life);
  const asGiven = given.reduce((sum, { resourceId }) => {
    const paid = spend.get(resourceId);
    return sum + (paid ? totalOf(paid.cost) + paid.cost.covered : 0n);
  }, 0n);
  const day: DayOfResource = {
    from,
    to,
    life: combined,
    due,
    dueThen: input.plans.flatMap(({ from: start, claimOf }, i): readonly DueStretch[] => {
      const end = input.plans[i + 1]?.from ?? to;
      const then = claimOf(resource.id);
      return then ? dueStretches(resource, then, { from: start, to: end }) : [{ from: start, to: end, level: null }];
    }),
    cards,
    planCard,
    paid: ((own ? totalOf(own.cost) + own.cost.covered : 0n) + asOwn) as Amount,
    hibernates:
      claim.plan.offAction === "hibernate" && capabilities !== undefined && whyNoHibernation(resource, capabilities) === null,
    starts: claim.plan.starts,
    isNew,
    endedAt,
    overrides: input.overridesOn(resource, claim.plan.name),
    failed: actions.filter(({ isTroubled }) => isTroubled),
    actions: actions.filter(({ isTroubled }) => !isTroubled),
    evictedAt: [resource.id, ...given.map(({ resourceId }) => resourceId)].flatMap((id) => input.evictedAt(id)),
  };
  return {
    member,
    compared: withMix(compareDay(day), (asGiven - asOwn) as Amount),
    mix: seen && mixForecastOf(claim.plan.mix, resource, { due, cards, input, seen }),
    baseline: baselineOf(resource, { from, to, cards, endedAt, size, basis }),
    isNew,
    due,
  };
}

/** The first card counts for whatever began before it. */
function reaching(cards: readonly DatedCard[]): readonly DatedCard[] {
  return cards.map((dated, i) => (i === 0 ? { ...dated, from: Number.NEGATIVE_INFINITY } : dated));
}

/** What the hours of a plan alone make due, never above what the resource can run at. */
function dueStretches(resource: Resource, claim: Claim, window: Readonly<{ from: Instant; to: Instant }>): readonly DueStretch[] {
  const most = highestLevel(resource);
  return dueOver(resource, followingOf(claim, []), window).map(({ from, to, level }) => ({
    from,
    to,
    level: level === null ? null : (Math.min(level, most) as Level),
  }));
}

/**
 * Of the saving, and of the projected one, what commitments had paid for anyway: what they pay of
 * everything with the fleet as it ran before, less what they paid as it really ran, or would have as
 * planned. Others run as they did that day, instant by instant.
 */
async function coveredAnywayBy(
  { pool }: Services,
  { from, to, prices, snapshot, lives, membersOfGroup }: RealisedInput,
  measured: readonly Measured[],
): Promise<Pick<RealisedDay, "coveredAnyway" | "coveredAnywayProjected">> {
  const { commitments } = prices;
  const isCoverable = (resource: Resource) => coveredByAny(commitments, resource);
  const all = (await fullInventory(pool)).map((resource) => listedAt(resource, from)).filter(isCoverable);
  const byId = new Map(all.map((resource) => [resource.id, resource]));
  // What a mix gave a group ran in its place, and would not have run without it.
  const givenIn = ({ member }: Measured) =>
    membersOfGroup(member.resource.id).flatMap(({ resourceId }) => byId.get(resourceId) ?? []);
  const own = measured.filter((one) => isCoverable(one.member.resource) || givenIn(one).length > 0);
  if (own.length === 0) return { coveredAnyway: NO_AMOUNT, coveredAnywayProjected: NO_AMOUNT };
  const cardsOver = cardsOf(prices, snapshot.capabilities);
  const runsOf = (resource: Resource, life: readonly LifeSpan[]): CoverRun[] => {
    const cards = reaching(cardsOver(resource, from, to) ?? []);
    return billedRuns(life, cards).map((run) => ({
      one: resource,
      from: run.from,
      to: run.to,
      level: run.level,
      perLevel: (cardAt(cards, Math.max(from, run.from)) ?? (cards[0] as DatedCard).card).perLevel,
    }));
  };
  const ids = new Set(own.flatMap((one) => [one.member.resource.id, ...givenIn(one).map(({ id }) => id)]));
  const lifeOf = ({ id }: Resource) => lives.get(id) ?? [];
  const others = all.filter(({ id }) => !ids.has(id)).flatMap((resource) => runsOf(resource, lifeOf(resource)));
  const paidFor = (runs: readonly CoverRun[]) =>
    coverOver(commitments, [...others, ...runs], { from, to }).covered.reduce((sum, amount) => sum + amount, 0n);
  const paidWith = (life: (one: Measured) => readonly LifeSpan[]) =>
    paidFor(own.flatMap((one) => runsOf(one.member.resource, life(one))));
  const really = (one: Measured) => lifeOf(one.member.resource);
  const paidReally = paidFor(
    own.flatMap((one) => [one.member.resource, ...givenIn(one)].flatMap((resource) => runsOf(resource, lifeOf(resource)))),
  );
  const planned = (one: Measured): readonly LifeSpan[] =>
    one.isNew
      ? really(one)
      : one.due.flatMap(({ from: start, to: end, level }) => plannedSpans(really(one), { start, end, level }));
  const samples = Math.max(...own.map(({ baseline }) => baseline.runs.length));
  let without = 0n;
  for (let i = 0; i < samples; i++) {
    without += paidWith((one) => (one.isNew ? really(one) : (one.baseline.runs[i % one.baseline.runs.length] ?? [])));
  }
  const mean = divideHalfEven(without, BigInt(samples));
  return { coveredAnyway: (mean - paidReally) as Amount, coveredAnywayProjected: (mean - paidWith(planned)) as Amount };
}

type Stretch = Readonly<{ start: Instant; end: Instant; level: Level | null }>;

function plannedSpans(life: readonly LifeSpan[], { start, end, level }: Stretch): LifeSpan[] {
  if (level !== null) return [{ from: start, to: end, state: level > 0 ? "running" : "stopped", level }];
  return life.flatMap((span) => {
    const [first, last] = [Math.max(start, span.from), Math.min(end, span.to)];
    return first < last ? [{ ...span, from: first, to: last }] : [];
  });
}
