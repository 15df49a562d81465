import {
  type Amount,
  type AmountPerSecond,
  addAmounts,
  amountOf,
  type CardsOver,
  countsAt,
  coverEach,
  covers,
  feePerSecond,
  NO_AMOUNT,
  subtractAmounts,
} from "@/core/pricing";
import { cardAt, type LifeSpan, runningSpend } from "@/core/spend";
import { HOUR_S, type Instant } from "@/core/time";
import { isStanding, livesOf, type Pool, type Prices, type StandingResource, type StoredHold } from "@/store";
import type { WorldAt } from "../as-of";
import { cardsOf } from "../cards";
import { commitmentKey } from "../reckon";
import { endOfMonth, type MonthSoFar, monthSoFar } from "./month";

/** Exact money of one line. What cannot be known ahead of now is null. */
export type Money = Readonly<{ perHour: Amount; soFar: Amount | null; month: Amount | null; byMonthEnd: Amount | null }>;

export type PricedLine = Readonly<
  Money & {
    resource: StandingResource;
    hold: StoredHold | null;
    isNotDue: boolean;
    isCovered: boolean;
    unpriced: readonly string[];
  }
>;

/** A commitment's fee, and how many of its units are in use. */
export type PricedFee = Readonly<
  Money & { key: string; size: string; region: string; account: string; used: number; units: number }
>;

export type Priced = Readonly<{ lines: readonly PricedLine[]; fees: readonly PricedFee[]; monthEnd: Instant }>;

/** Prices everything that runs as of an instant, net of commitments. */
export async function priceStanding(pool: Pool, world: WorldAt, prices: Prices): Promise<Priced> {
  const { at, tense, standing } = world;
  const monthEnd = endOfMonth(at);
  const running = standing.filter(({ state }) => isStanding(state));
  const [month, lives] = await Promise.all([
    tense === "ahead" ? null : monthSoFar(pool, { world, prices, at, isNow: tense === "now" }),
    tense === "ahead" ? new Map<string, LifeSpan[]>() : livesOfMany(pool, running, at),
  ]);
  const cardsOver = cardsOf(prices, world.capabilities);
  const cover = coverOf(world, prices, { running, cardsOver });
  const holds = holdFinder(world.holds);
  const lines: PricedLine[] = [];
  // Ten thousand at every look: a plain loop, and nothing made that is not kept.
  for (const resource of running) {
    const from = resource.runSince ?? resource.since;
    const cards = cardsOver(resource, Math.min(from, at), at + 1);
    const spend = cards && runningSpend(resource, { now: at, until: monthEnd, cards, life: lives.get(resource.id) });
    if (!spend) continue;
    const covered = cover.get(resource.id) ?? NO_AMOUNT;
    const perSecond = covered === 0n ? amountOf(1, spend.perSecond) : subtractAmounts(amountOf(1, spend.perSecond), covered);
    const hold = holds(resource);
    const {
      perHour,
      soFar,
      month: monthNow,
      byMonthEnd,
    } = ahead(perSecond, { id: resource.id, soFar: spend.soFar, month, at, monthEnd });
    lines.push({
      resource,
      hold,
      perHour,
      soFar,
      month: monthNow,
      byMonthEnd,
      isNotDue: (hold ? hold.level === 0 : resource.due === 0) && resource.state !== "stopping",
      isCovered: covered > 0n,
      unpriced: cardAt(cards, at)?.unpriced ?? [],
    });
  }
  return { lines, fees: feesOf(world, prices, { running, month, monthEnd }), monthEnd };
}

type Ahead = Readonly<{
  id: string;
  soFar: Amount | null;
  month: MonthSoFar | null;
  at: Instant;
  monthEnd: Instant;
}>;

/** Going on from what is known of the month at the rate of now, an amount a second. */
function ahead(perSecond: Amount, { id, soFar, month, at, monthEnd }: Ahead): Money {
  const perHour = (perSecond * BigInt(HOUR_S)) as Amount;
  if (!month) return { perHour, soFar: null, month: null, byMonthEnd: null };
  const monthNow = (month.of(id) + perSecond * BigInt(at - month.at)) as Amount;
  return { perHour, soFar, month: monthNow, byMonthEnd: (monthNow + perSecond * BigInt(monthEnd - at)) as Amount };
}

/** Only what may run at changing levels needs its life to be priced. */
function livesOfMany(pool: Pool, running: readonly StandingResource[], at: Instant): Promise<Map<string, LifeSpan[]>> {
  const many = running.filter(({ kind, runSince }) => kind !== "machine" && runSince !== null);
  if (many.length === 0) return Promise.resolve(new Map());
  return livesOf(
    pool,
    many.map(({ id }) => id),
    { from: at - 1, to: at },
  );
}

/** The compute a second that commitments pay for, by resource. */
function coverOf(
  { at }: WorldAt,
  { commitments }: Prices,
  { running, cardsOver }: { running: readonly StandingResource[]; cardsOver: CardsOver },
): Map<string, Amount> {
  const covered = new Map<string, Amount>();
  for (const commitment of commitments) {
    if (!countsAt(commitment, at)) continue;
    const eligible = running.filter((resource) => resource.level > 0 && covers(commitment, resource));
    const wanted = eligible.map((resource) => {
      const card = cardAt(cardsOver(resource, at, at + 1) ?? [], at);
      const rate = card ? ((card.perLevel * BigInt(resource.level)) as AmountPerSecond) : null;
      return { units: resource.level, compute: rate === null ? NO_AMOUNT : amountOf(1, rate) };
    });
    coverEach(wanted, commitment.units).forEach((amount, i) => {
      const { id } = eligible[i] as StandingResource;
      covered.set(id, addAmounts(covered.get(id) ?? NO_AMOUNT, amount));
    });
  }
  return covered;
}

function feesOf(
  { at }: WorldAt,
  { commitments }: Prices,
  { running, month, monthEnd }: { running: readonly StandingResource[]; month: MonthSoFar | null; monthEnd: Instant },
): PricedFee[] {
  return commitments
    .filter((commitment) => countsAt(commitment, at))
    .map((commitment) => {
      const key = commitmentKey(commitment);
      const perSecond = amountOf(1, feePerSecond(commitment));
      const wanted = running.reduce((sum, resource) => sum + (covers(commitment, resource) ? resource.level : 0), 0);
      const money = ahead(perSecond, { id: key, soFar: null, month, at, monthEnd });
      const { size, region, account, units } = commitment;
      return { ...money, key, size, region, account, units, used: Math.min(units, wanted) };
    });
}

/** The one that decides: its own before its fleet's, the last placed first. */
function holdFinder(holds: readonly StoredHold[]): (resource: StandingResource) => StoredHold | null {
  if (holds.length === 0) return () => null;
  return ({ id, fleet }) => {
    if (fleet === null) return null;
    return holds.find(({ resourceId }) => resourceId === id) ?? holds.find((hold) => hold.fleet === fleet) ?? null;
  };
}
