import type { Level } from "../hours";
import type { ResourceState } from "../plan";
import { type Amount, type AmountPerSecond, amountOf, computePerSecond, costPerSecond, type RateCard } from "../pricing";
import type { LifeSpan } from "../spend";
import type { Instant } from "../time";

/** Why a day cost something else than was projected for it (docs/model.md, Money: realised savings). */
export const GAP_CAUSES = [
  "holds",
  "failed starts or stops",
  "evictions",
  "by hand, or on the way",
  "new or vanished",
  "prices",
  "rounding up of runs",
] as const;
export type GapCause = (typeof GAP_CAUSES)[number];
export type Gap = Readonly<Record<GapCause, Amount>>;

/** A stretch of what was due; null: leave it as it is. */
export type DueSpan = Readonly<{ from: Instant; to: Instant; level: Level | null }>;
type Stretch = Readonly<{ from: Instant; to: Instant }>;

export type DayOfResource = Readonly<{
  from: Instant;
  to: Instant;
  /** Its life over the day and before; empty where it did not exist. */
  life: readonly LifeSpan[];
  due: readonly DueSpan[];
  /** The card of the day the plan was put in force: projections are made at those prices. */
  planCard: RateCard;
  /** What the day really cost, at its own prices and as billed, before commitments. */
  paid: Amount;
  /** The same runs as billed at the prices of the plan. */
  paidAtPlanPrices: Amount;
  hibernates: boolean;
  startsByHand: boolean;
  isNew: boolean;
  isGone: boolean;
  held: readonly Stretch[];
  /** From a start or stop that failed until it went through. */
  failed: readonly Stretch[];
  evictedAt: readonly Instant[];
}>;

export type DayCompared = Readonly<{ paid: Amount; projected: Amount; gap: Gap }>;

/**
 * What one resource cost on a day beside what its plan projected, the difference split by cause. The
 * parts of the gap add up to `paid - projected` exactly.
 */
export function compareDay(input: DayOfResource): DayCompared {
  const gap = Object.fromEntries(GAP_CAUSES.map((cause) => [cause, 0n])) as Record<GapCause, bigint>;
  const { paid, paidAtPlanPrices, from, to } = input;
  gap.prices = paid - paidAtPlanPrices;
  const edges = edgesOf(input);
  let projected = 0n;
  let actual = 0n;
  edges.forEach((start, i) => {
    const end = edges[i + 1];
    if (end === undefined) return;
    const span = input.life.find((one) => one.from <= start && start < one.to);
    const dueLevel = input.due.find((one) => one.from <= start && start < one.to)?.level ?? null;
    const was = span ? costPerSecond(input.planCard, span) : 0n;
    const wanted = wantedLevel(dueLevel, span, input);
    const planned = wanted === null ? was : dueRate(input, wanted);
    actual += BigInt(end - start) * was;
    if (input.isNew) return;
    const plannedAmount = amountOf(end - start, planned as AmountPerSecond);
    projected += plannedAmount;
    if (input.isGone) return;
    const difference = BigInt(end - start) * was - plannedAmount;
    if (difference !== 0n) gap[causeOf({ from: start, to: end }, { input, span, wanted })] += difference;
  });
  if (input.isNew) gap["new or vanished"] = paidAtPlanPrices;
  else if (input.isGone) gap["new or vanished"] = paidAtPlanPrices - projected;
  else gap["rounding up of runs"] = paidAtPlanPrices - actual;
  if (from >= to) throw new RangeError("a day has a length");
  return { paid, projected: projected as Amount, gap: gap as Gap };
}

function edgesOf({ from, to, life, due, held, failed, evictedAt }: DayOfResource): Instant[] {
  const inside = [...life, ...due, ...held, ...failed].flatMap((one) => [one.from, one.to]).concat(evictedAt);
  const edges = new Set([from, to, ...inside.filter((t) => t > from && t < to)]);
  return [...edges].sort((a, b) => a - b);
}

/** The level the projection counted with; null where it counted with things as they are. */
function wantedLevel(due: Level | null, span: LifeSpan | undefined, { startsByHand }: DayOfResource): Level | null {
  if (due === null) return null;
  return startsByHand && span && due > span.level ? null : due;
}

function dueRate({ planCard, hibernates }: DayOfResource, level: Level): AmountPerSecond {
  const state: ResourceState = level > 0 ? "running" : hibernates ? "hibernated" : "stopped";
  if (level > 0) return (computePerSecond(planCard, level) + planCard.always + planCard.addressesOn) as AmountPerSecond;
  return costPerSecond(planCard, { state, level });
}

type Context = Readonly<{ input: DayOfResource; span: LifeSpan | undefined; wanted: Level | null }>;

function causeOf(stretch: Stretch, { input, span, wanted }: Context): GapCause {
  const isIn = (one: Stretch) => one.from <= stretch.from && stretch.to <= one.to;
  if (input.held.some(isIn)) return "holds";
  const isBelow = (span?.level ?? 0) < (wanted ?? 0);
  if (isBelow && span && input.evictedAt.some((at) => span.from <= at && at <= stretch.from)) return "evictions";
  if (input.failed.some(isIn)) return "failed starts or stops";
  return "by hand, or on the way";
}

/** Several resources' days as one. */
export function addCompared(days: readonly DayCompared[]): DayCompared {
  const gap = Object.fromEntries(GAP_CAUSES.map((cause) => [cause, 0n])) as Record<GapCause, bigint>;
  let paid = 0n;
  let projected = 0n;
  for (const day of days) {
    paid += day.paid;
    projected += day.projected;
    for (const cause of GAP_CAUSES) gap[cause] += day.gap[cause];
  }
  return { paid: paid as Amount, projected: projected as Amount, gap: gap as Gap };
}
