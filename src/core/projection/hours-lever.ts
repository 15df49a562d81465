import { type CompiledSchedule, expand, type Interval, type Level, withLead } from "../hours";
import type { Resource } from "../plan";
import {
  type Amount,
  type AmountPerSecond,
  addAmounts,
  amountOf,
  billedSeconds,
  computePerSecond,
  NO_AMOUNT,
  NO_RATE,
  type RateCard,
  scaleAmount,
  subtractAmounts,
} from "../pricing";
import { type Instant, MINUTE_S, MONTH_S } from "../time";

/** A stretch at one level. */
export type Run = Readonly<{ from: Instant; to: Instant; level: Level }>;

/** A resource with what it costs, and how it really ran in the past window. */
export type Projected = Readonly<{
  id: string;
  kind: Resource["kind"];
  levelMax: number;
  card: RateCard;
  runs: readonly Run[];
  /** It is guarded, or its hours cannot be read: the lever does not touch it. */
  isLeft: boolean;
  canHibernate: boolean;
}>;

export type HoursLever = Readonly<{
  schedule: CompiledSchedule;
  leadMinutes: number;
  offAction: "stop" | "hibernate" | "drop";
  starts: "plan" | "hand";
}>;

export type Window = Readonly<{ from: Instant; to: Instant }>;

/** Exact amounts per month of 730 hours; the two savings each add up with `projected` to their baseline. */
export type HoursProjection = Readonly<{
  alwaysOn: Amount;
  asItRan: Amount;
  projected: Amount;
  savesOnAlwaysOn: Amount;
  savesOnAsItRan: Amount;
}>;

/**
 * What a month costs always on, as it really ran in `past`, and with the hours over `ahead`
 * (docs/model.md, Money: projection). Where the hours say leave, and for resources that are left,
 * a month costs what it cost in `past`. Hours that only ever lower are replayed over `past`.
 */
export function projectHours(
  resources: readonly Projected[],
  lever: HoursLever | null,
  windows: { past: Window; ahead: Window },
): HoursProjection {
  const { past, ahead } = windows;
  const usageOf = lever && usageReader(lever, windows);
  let alwaysOn = NO_AMOUNT;
  let asItRan = NO_AMOUNT;
  let projected = NO_AMOUNT;
  for (const resource of resources) {
    const { card } = resource;
    const full = amountOf(
      MONTH_S,
      (computePerSecond(card, onLevel(resource)) + card.always + card.addressesOn) as AmountPerSecond,
    );
    const ran = perMonth(costOfRuns(resource, resource.runs, { window: past, imageRate: NO_RATE }), past);
    alwaysOn = addAmounts(alwaysOn, full);
    asItRan = addAmounts(asItRan, ran);
    if (!usageOf || resource.isLeft) {
      projected = addAmounts(projected, ran);
      continue;
    }
    const imageRate = lever.offAction === "hibernate" && resource.canHibernate ? card.image : NO_RATE;
    const cost =
      lever.starts === "hand"
        ? perMonth(costOfRuns(resource, lowered(resource, lever, past), { window: past, imageRate }), past)
        : addAmounts(
            perMonth(costOfUse(resource, usageOf(resource), { window: ahead, imageRate }), ahead),
            scaleAmount(ran, usageOf(resource).leftS, ahead.to - ahead.from),
          );
    projected = addAmounts(projected, cost);
  }
  return {
    alwaysOn,
    asItRan,
    projected,
    savesOnAlwaysOn: subtractAmounts(alwaysOn, projected),
    savesOnAsItRan: subtractAmounts(asItRan, projected),
  };
}

/** Two projections as one: of fleets apart, or of parts of a fleet that follow different hours. */
export function addProjections(a: HoursProjection, b: HoursProjection): HoursProjection {
  return {
    alwaysOn: addAmounts(a.alwaysOn, b.alwaysOn),
    asItRan: addAmounts(a.asItRan, b.asItRan),
    projected: addAmounts(a.projected, b.projected),
    savesOnAlwaysOn: addAmounts(a.savesOnAlwaysOn, b.savesOnAlwaysOn),
    savesOnAsItRan: addAmounts(a.savesOnAsItRan, b.savesOnAsItRan),
  };
}

function perMonth(amount: Amount, { from, to }: Window): Amount {
  return scaleAmount(amount, MONTH_S, to - from);
}

/** Always on: a machine at 1; a group or service at the highest level it had, at least 1. */
function onLevel({ kind, runs }: Projected): Level {
  if (kind === "machine") return 1 as Level;
  return Math.max(1, ...runs.map(({ level }) => level)) as Level;
}

/** Billed seconds per level, seconds on and seconds left alone, in a window. */
type Use = Readonly<{ billed: ReadonlyMap<Level, number>; onS: number; leftS: number }>;

/** Expands once per distinct way of billing, not once per resource. */
function usageReader(lever: HoursLever, { ahead }: { ahead: Window }): (resource: Projected) => Use {
  const uses = new Map<string, Use>();
  const intervals = withLead(expand(lever.schedule, ahead.from, ahead.to), lever.leadMinutes * MINUTE_S);
  return (resource) => {
    const { billing } = resource.card;
    const highest = resource.kind === "machine" ? 1 : resource.levelMax;
    const key = `${highest} ${billing.granularityS} ${billing.minimumS}`;
    let use = uses.get(key);
    if (!use) {
      use = usageOfIntervals(intervals, highest, billing);
      uses.set(key, use);
    }
    return use;
  };
}

function usageOfIntervals(intervals: readonly Interval[], highest: number, billing: RateCard["billing"]): Use {
  const leftS = intervals.reduce((sum, { from, to, level }) => sum + (level === null ? to - from : 0), 0);
  const runs = joined(
    intervals.flatMap(({ from, to, level }) => (level ? [{ from, to, level: Math.min(level, highest) as Level }] : [])),
  );
  return { ...billedByLevel(runs, billing), leftS };
}

/** Joins neighbours at the same level: one run is billed once. */
function joined(runs: readonly Run[]): Run[] {
  const result: Run[] = [];
  for (const run of runs) {
    const last = result.at(-1);
    if (last && last.to === run.from && last.level === run.level) result[result.length - 1] = { ...last, to: run.to };
    else result.push(run);
  }
  return result;
}

function billedByLevel(runs: readonly Run[], billing: RateCard["billing"]): { billed: Map<Level, number>; onS: number } {
  const billed = new Map<Level, number>();
  let onS = 0;
  for (const { from, to, level } of runs) {
    onS += to - from;
    billed.set(level, (billed.get(level) ?? 0) + billedSeconds(to - from, billing));
  }
  return { billed, onS };
}

type Costing = Readonly<{ window: Window; imageRate: AmountPerSecond }>;

function costOfRuns(resource: Projected, runs: readonly Run[], costing: Costing): Amount {
  const clipped = runs.flatMap(({ from, to, level }) => {
    const start = Math.max(from, costing.window.from);
    const end = Math.min(to, costing.window.to);
    return start < end && level > 0 ? [{ from: start, to: end, level }] : [];
  });
  return costOfUse(resource, { ...billedByLevel(clipped, resource.card.billing), leftS: 0 }, costing);
}

function costOfUse({ card }: Projected, use: Use, { window, imageRate }: Costing): Amount {
  const wholeS = window.to - window.from - use.leftS;
  let sum = amountOf(wholeS, card.always) + amountOf(use.onS, card.addressesOn);
  sum += amountOf(wholeS - use.onS, (card.addressesOff + imageRate) as AmountPerSecond);
  for (const [level, seconds] of use.billed) sum += amountOf(seconds, computePerSecond(card, level));
  return sum as Amount;
}

/** The past runs as they would have been with hours that only lower: never more than the hours allow. */
function lowered(resource: Projected, lever: HoursLever, past: Window): Run[] {
  const hours = expand(lever.schedule, past.from, past.to);
  const result: Run[] = [];
  for (const run of resource.runs) {
    for (const { from, to, level } of hours) {
      const start = Math.max(from, run.from);
      const end = Math.min(to, run.to);
      const allowed = level === null ? run.level : (Math.min(level, run.level) as Level);
      if (start < end && allowed > 0) result.push({ from: start, to: end, level: allowed });
    }
  }
  return joined(result);
}
