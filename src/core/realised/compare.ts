import type { Level } from "../hours";
import { askedOf, type FleetPlan, type ResourceState } from "../plan";
import {
  type Amount,
  type AmountPerSecond,
  amountOf,
  computePerSecond,
  costPerSecond,
  type DatedCard,
  NO_RATE,
  type RateCard,
} from "../pricing";
import { OVERRIDE_ORDER, OVERRIDES, type Override, type OverrideCause } from "../rounds";
import { cardAt, costOver, type LifeSpan, totalOf } from "../spend";
import { type Instant, MINUTE_S } from "../time";

/** Why a day cost something else than was projected for it (docs/model.md, Money: realised savings). */
export const GAP_CAUSES = [
  "idle alarms",
  "the mix",
  "ready machines",
  "holds",
  "persons' starts and stops",
  "failed starts or stops",
  "rounds late",
  "on the way",
  "evictions",
  "new resources",
  "gone resources",
  "plan changed",
  "rounding up of runs",
  "unexplained",
] as const;
export type GapCause = (typeof GAP_CAUSES)[number];
export type Gap = Readonly<Record<GapCause, Amount>>;

/** A stretch of what was due; null: leave it as it is. */
export type DueStretch = Readonly<{ from: Instant; to: Instant; level: Level | null }>;
type Stretch = Readonly<{ from: Instant; to: Instant }>;

export type DayOfResource = Readonly<{
  from: Instant;
  to: Instant;
  /** Its life over the day and before; empty where it did not exist. */
  life: readonly LifeSpan[];
  /** What the plan of the day's beginning makes due by its hours: the projection counts with it. */
  due: readonly DueStretch[];
  /** What the plans of each instant made due, as far as that differs: a plan changed during the day. */
  dueThen: readonly DueStretch[];
  /** Prices of the day. */
  cards: readonly DatedCard[];
  /** The prices of the instant at which the plan was put in force: the projection was made at those. */
  planCard: RateCard;
  /** What the day really cost, as billed, before commitments. */
  paid: Amount;
  hibernates: boolean;
  starts: FleetPlan["starts"];
  /** It came after the plan, and not 28 days ago. */
  isNew: boolean;
  /** Since when it is gone or no longer listed; null while it is there. */
  endedAt: Instant | null;
  overrides: readonly (Stretch & Pick<Override, "kind">)[];
  /** From a start or stop that failed until it went through. */
  failed: readonly Stretch[];
  /** Actions of rounds, each from when it was recorded until the provider confirmed it. */
  actions: readonly Stretch[];
  evictedAt: readonly Instant[];
}>;

export type DayCompared = Readonly<{
  paid: Amount;
  /** At the prices of the day. */
  projected: Amount;
  /** What those prices made the projection dearer than it was when the plan was put in force. */
  priceEffect: Amount;
  gap: Gap;
}>;

/** A round comes every minute: what waits longer for one is late. */
const LATE_AFTER_S = 2 * MINUTE_S;

/**
 * What one resource cost on a day beside what its plan projected, the difference split by cause. The
 * parts of the gap add up to `paid - projected` exactly.
 */
export function compareDay(input: DayOfResource): DayCompared {
  const { paid, from, to, cards, planCard } = input;
  if (from >= to) throw new RangeError("a day has a length");
  const gap = Object.fromEntries(GAP_CAUSES.map((cause) => [cause, 0n])) as Record<GapCause, bigint>;
  const edges = edgesOf(input);
  let projected = 0n;
  let atPlanPrices = 0n;
  let actual = 0n;
  edges.forEach((start, i) => {
    const end = edges[i + 1];
    const card = cardAt(cards, start);
    if (end === undefined || !card) return;
    const span = input.life.find((one) => one.from <= start && start < one.to);
    const isEnded = input.endedAt !== null && start >= input.endedAt;
    const wanted = wantedLevel(levelIn(input.due, start), isEnded ? lastBefore(input) : span, input) ?? untripped(start, input);
    const was = span ? costPerSecond(card, span) : NO_RATE;
    const planned = (of: RateCard) => plannedRate(of, wanted, { input, span: isEnded ? lastBefore(input) : span });
    actual += BigInt(end - start) * was;
    if (input.isNew) return;
    const plannedAmount = amountOf(end - start, planned(card));
    projected += plannedAmount;
    atPlanPrices += amountOf(end - start, planned(planCard));
    const difference = BigInt(end - start) * was - plannedAmount;
    if (difference === 0n) return;
    const cause = isEnded ? "gone resources" : causeOf({ from: start, to: end }, { input, span, wanted });
    gap[cause] += difference;
  });
  if (input.isNew) gap["new resources"] = paid;
  else {
    const billed = totalOf(costOver({ life: input.life, cards, from, to, knownTo: to + 1 }));
    gap["rounding up of runs"] = billed - actual;
    // Whatever its life and the prices of the day do not come to.
    gap.unexplained += paid - billed;
  }
  return {
    paid,
    projected: projected as Amount,
    priceEffect: (projected - atPlanPrices) as Amount,
    gap: gap as Gap,
  };
}

function edgesOf({
  from,
  to,
  life,
  due,
  dueThen,
  cards,
  overrides,
  failed,
  actions,
  evictedAt,
  endedAt,
}: DayOfResource): Instant[] {
  const stretches = [...life, ...due, ...dueThen, ...overrides, ...failed, ...actions].flatMap((one) => [one.from, one.to]);
  const late = dueThen.map((one) => one.from + LATE_AFTER_S);
  const inside = stretches.concat(
    late,
    evictedAt,
    cards.map((dated) => dated.from),
    endedAt ?? [],
  );
  const edges = new Set([from, to, ...inside.filter((t) => t > from && t < to)]);
  return [...edges].sort((a, b) => a - b);
}

function levelIn(due: readonly DueStretch[], t: Instant): Level | null {
  return due.find((one) => one.from <= t && t < one.to)?.level ?? null;
}

/** What it was before it ended: where hours say leave, it would have gone on so. */
function lastBefore({ life, endedAt }: DayOfResource): LifeSpan | undefined {
  return life.findLast((span) => span.from < (endedAt ?? Number.POSITIVE_INFINITY) && span.state !== "gone");
}

/** The level the projection counted with; null where it counted with things as they are. */
function wantedLevel(due: Level | null, span: LifeSpan | undefined, plan: DayOfResource): Level | null {
  return span ? askedOf(plan, { due, level: span.level }) : due;
}

/** Where hours leave alone, or do not start again, what an idle alarm turned off, it would have gone on as it ran; null where nothing is so. */
function untripped(t: Instant, { overrides, life }: DayOfResource): Level | null {
  const trip = overrides.find(({ kind, from, to }) => OVERRIDES[kind].may === "lower" && from <= t && t < to);
  if (!trip) return null;
  return life.findLast(({ from, level }) => from <= trip.from && level > 0)?.level ?? null;
}

type Planned = Readonly<{ input: DayOfResource; span: LifeSpan | undefined }>;

function plannedRate(card: RateCard, level: Level | null, { input, span }: Planned): AmountPerSecond {
  if (level === null) return span ? costPerSecond(card, span) : NO_RATE;
  const state: ResourceState = level > 0 ? "running" : input.hibernates ? "hibernated" : "stopped";
  if (level > 0) return (computePerSecond(card, level) + card.always + card.addressesOn) as AmountPerSecond;
  return costPerSecond(card, { state, level });
}

type Context = Readonly<{ input: DayOfResource; span: LifeSpan | undefined; wanted: Level | null }>;

function causeOf(stretch: Stretch, { input, span, wanted }: Context): GapCause {
  const isIn = (one: Stretch) => one.from <= stretch.from && stretch.to <= one.to;
  const override = overrideCause(input.overrides.filter(isIn));
  if (override) return override;
  const dueNow = levelIn(input.dueThen, stretch.from);
  if (dueNow !== levelIn(input.due, stretch.from)) return "plan changed";
  const isBelow = (span?.level ?? 0) < (wanted ?? 0);
  if (isBelow && span && input.evictedAt.some((at) => span.from <= at && at <= stretch.from)) return "evictions";
  if (input.failed.some(isIn)) return "failed starts or stops";
  if (input.actions.some(isIn)) return "on the way";
  const edge = input.dueThen.findLast(({ from }) => from <= stretch.from)?.from ?? input.from;
  const acted = input.actions.some(({ from }) => from >= edge && from <= stretch.from);
  const turned = span !== undefined && span.from >= edge && span.from <= stretch.from;
  // Nothing was done about it since it fell due: the round that does comes within a minute or is late.
  if (!acted && !turned && edge > input.from) {
    return stretch.to <= edge + LATE_AFTER_S ? "on the way" : "rounds late";
  }
  const isOurs = span !== undefined && input.actions.some(({ from, to }) => from <= span.from && span.from <= to);
  return isOurs || !span ? "unexplained" : "persons' starts and stops";
}

/** The cause of the override that goes before the others in effect; null where there is none. */
function overrideCause(inEffect: readonly Pick<Override, "kind">[]): OverrideCause | null {
  if (inEffect.length === 0) return null;
  const first = OVERRIDE_ORDER.find(({ kind }) => inEffect.some((one) => one.kind === kind));
  return first ? OVERRIDES[first.kind].cause : null;
}

/** Several resources' days as one. */
export function addCompared(days: readonly DayCompared[]): DayCompared {
  const gap = Object.fromEntries(GAP_CAUSES.map((cause) => [cause, 0n])) as Record<GapCause, bigint>;
  let paid = 0n;
  let projected = 0n;
  let priceEffect = 0n;
  for (const day of days) {
    paid += day.paid;
    projected += day.projected;
    priceEffect += day.priceEffect;
    for (const cause of GAP_CAUSES) gap[cause] += day.gap[cause];
  }
  return { paid: paid as Amount, projected: projected as Amount, priceEffect: priceEffect as Amount, gap: gap as Gap };
}
