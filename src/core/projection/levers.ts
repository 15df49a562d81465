import { onlyLowers } from "../plan";
import { type Amount, addAmounts, divideHalfEven, type MoneyView, NO_AMOUNT, scaleAmount, subtractAmounts } from "../pricing";
import { highestLevel } from "../rounds";
import { DAY_S } from "../time";
import { type CoverableUse, coverOfMonths, type SpareCover } from "./cover";
import {
  costOfUse,
  type HoursFollowed,
  type HoursUse,
  imageRateOf,
  type Laying,
  leftRuns,
  lifeOfRuns,
  lowered,
  usageReader,
} from "./hours-use";
import { type PeopleUse, type Spread, withPeople } from "./idle-lever";
import type { BasisDays, Line } from "./line";
import { alwaysOnOf } from "./line-cost";
import type { Month } from "./months";
import { monthReader, ranOf } from "./ran";

/** Hours, by line; null where they touch it not. */
export type HoursLever = Readonly<{
  kind: "hours";
  followed: readonly (HoursFollowed | null)[];
  /** What people bring, of a pool whose sessions are known. */
  people?: PeopleUse;
}>;

/** The levers of a plan, in the order in which they are laid over each other. */
export const LEVER_KINDS = ["hours", "idle", "mix"] as const;
export type LeverKind = (typeof LEVER_KINDS)[number];

/** What all lines cost in each month, before commitments and what those pay of it; and line by line, before commitments. */
export type Figure = Readonly<{
  gross: readonly Amount[];
  covered: readonly Amount[];
  lines: readonly (readonly Amount[])[];
  /** What runs of each line as far as hours say it: what commitments are laid on. */
  uses: readonly CoverableUse[];
}>;

export type Step = Readonly<{ lever: LeverKind; after: Figure; spread: Spread | null }>;

/** Two baselines and a step for each lever (docs/model.md, Money: projection). */
export type Projection = Readonly<{
  months: readonly Month[];
  alwaysOn: Figure;
  /** Null where there is no day that it could rest on. */
  asItRan: Figure | null;
  steps: readonly Step[];
}>;

export type ProjectionInput = Readonly<{
  lines: readonly Line[];
  months: readonly Month[];
  /** The days that "as it ran" rests on. */
  days: BasisDays;
  spare: SpareCover | null;
}>;

/** What the lines cost always on and as they ran; the same whatever the levers are. */
export type Baselines = Readonly<{
  alwaysOn: Figure;
  asItRan: Figure | null;
  /** Line by line what a month costs where nothing is changed: as it ran, or always on where nothing ran before. */
  unchanged: readonly (readonly Amount[])[];
}>;

export function baselinesOf(input: ProjectionInput): Baselines {
  const { lines, months, days } = input;
  const alwaysOn = figureOf(
    lines.map((line) => alwaysOnOf(line, months)),
    input,
    alwaysOnUses(input),
  );
  if (days.length === 0 || lines.some(({ ran }) => ran === null)) return { alwaysOn, asItRan: null, unchanged: alwaysOn.lines };
  const readMonth = monthReader(days, months);
  const unchanged = lines.map(({ ran }) => months.map((_, m) => readMonth(ran as NonNullable<Line["ran"]>, m)));
  const uses = lines.map((line) => ({ line, ahead: [], ran: line.ran?.runs ?? [] }));
  return { alwaysOn, asItRan: figureOf(unchanged, input, uses), unchanged };
}

function figureOf(
  perLine: readonly (readonly Amount[])[],
  { months, spare }: Pick<ProjectionInput, "months" | "spare">,
  uses: readonly CoverableUse[],
): Figure {
  const gross = months.map(() => 0n);
  for (const amounts of perLine) {
    for (let m = 0; m < gross.length; m++) gross[m] = (gross[m] as bigint) + (amounts[m] as bigint);
  }
  return { gross: gross as Amount[], covered: coverOfMonths(uses, { spare, months }), lines: perLine, uses };
}

function alwaysOnUses({ lines, months }: Pick<ProjectionInput, "lines" | "months">): CoverableUse[] {
  const whole = { from: months[0]?.from ?? 0, to: months.at(-1)?.to ?? 0 };
  const bySize = new Map(lines.map(({ ownSize }) => [ownSize, [{ ...whole, level: ownSize }]]));
  return lines.map((line) => ({ line, ahead: bySize.get(line.ownSize) ?? [], ran: [] }));
}

/** What a lever is laid on. */
export type Laid = Readonly<{ input: ProjectionInput; baselines: Baselines }>;

/**
 * The figure by hours, with what the people of a pool bring on top. Where hours say leave, and for lines that are left, a month
 * costs what it cost as it ran, or always on where nothing ran before.
 */
export function afterHours(lever: HoursLever, laid: Laid): Readonly<{ after: Figure; spread: Spread | null }> {
  const after = byHours(lever, laid);
  const { input, baselines } = laid;
  if (!lever.people) return { after, spread: null };
  return withPeople(after, lever.people, {
    before: baselines.asItRan ?? baselines.alwaysOn,
    months: input.months,
    spare: input.spare,
  });
}

function byHours({ followed }: HoursLever, { input, baselines }: Laid): Figure {
  const { lines, months, days } = input;
  const hasRan = baselines.asItRan !== null;
  const readUse = usageReader(months);
  const readMonth = monthReader(days, months);
  const window = { from: (days[0] ?? 0) * DAY_S, to: ((days.at(-1) ?? -1) + 1) * DAY_S };
  const uses: CoverableUse[] = [];
  // Lines that agree in card, hours and size cost the same: it is worked out once.
  const alike = new Map<HoursFollowed, Map<Line["card"], Map<string, readonly Amount[]>>>();
  const perLine = lines.map((line, i): readonly Amount[] => {
    const own = followed[i] ?? null;
    const before = baselines.unchanged[i] as readonly Amount[];
    const stays: CoverableUse = hasRan
      ? { line, ahead: [], ran: line.ran?.runs ?? [] }
      : { line, ahead: [{ from: months[0]?.from ?? 0, to: months.at(-1)?.to ?? 0, level: line.ownSize }], ran: [] };
    if (!own || line.isLeft) {
      uses.push(stays);
      return before;
    }
    if (onlyLowers(own) && hasRan) {
      const runs = lowered(line, own, window);
      uses.push({ line, ahead: [], ran: runs });
      const life = lifeOfRuns(runs, window, own.offAction === "hibernate" && line.canHibernate);
      const ran = ranOf(life, { card: line.card, days });
      return months.map((_, m) => readMonth(ran, m));
    }
    // Without a past, leave goes on as always on, and hours that only lower begin there.
    const laying = hasRan ? AS_SAID : { leaveAs: line.ownSize, atMost: onlyLowers(own) ? line.ownSize : null };
    const use = readUse(line, own, laying);
    uses.push({ line, ahead: use.runs, ran: use.left.length === 0 ? [] : leftRuns(line, own, window) });
    if (use.left.length > 0) return monthsOfUse(line, own, { use, before, months });
    const byCard = alike.get(own) ?? new Map<Line["card"], Map<string, readonly Amount[]>>();
    alike.set(own, byCard);
    const bySize = byCard.get(line.card) ?? new Map<string, readonly Amount[]>();
    byCard.set(line.card, bySize);
    const key = `${line.kind} ${line.ownSize} ${highestLevel(line)} ${line.canHibernate}`;
    const amounts = bySize.get(key) ?? monthsOfUse(line, own, { use, before, months });
    bySize.set(key, amounts);
    return amounts;
  });
  return figureOf(perLine, input, uses);
}

const AS_SAID: Laying = { leaveAs: null, atMost: null };

type Using = Readonly<{ use: HoursUse; before: readonly Amount[]; months: readonly Month[] }>;

function monthsOfUse(line: Line, followed: HoursFollowed, { use, before, months }: Using): readonly Amount[] {
  const imageRate = imageRateOf(line, followed);
  return months.map(({ from, to }, m) => {
    const own = use.months[m] as (typeof use.months)[number];
    const cost = costOfUse(line.card, own, { seconds: to - from, imageRate });
    return own.leftS === 0 ? cost : addAmounts(cost, scaleAmount(before[m] as Amount, own.leftS, to - from));
  });
}

/** A figure of one month, or the mean of all of them. */
export function monthlyOf({ gross, covered }: Figure, month: number | "mean", view: MoneyView = "after"): Amount {
  const of = (m: number): bigint =>
    view === "after" ? subtractAmounts(gross[m] as Amount, covered[m] as Amount) : (gross[m] as Amount);
  if (month !== "mean") return of(month) as Amount;
  let sum = NO_AMOUNT as bigint;
  for (let m = 0; m < gross.length; m++) sum += of(m);
  return divideHalfEven(sum, BigInt(Math.max(1, gross.length))) as Amount;
}

export type Saving = Readonly<{ lever: LeverKind; saves: Amount; after: Amount }>;

/** From a baseline down, step by step: the savings add up with what is left to the baseline exactly. */
export function stepsFrom(
  { steps }: Pick<Projection, "steps">,
  baseline: Figure,
  { month, view = "after" }: Readonly<{ month: number | "mean"; view?: MoneyView }>,
): readonly Saving[] {
  let before = monthlyOf(baseline, month, view);
  return steps.map(({ lever, after: figure }) => {
    const after = monthlyOf(figure, month, view);
    const saves = subtractAmounts(before, after);
    before = after;
    return { lever, saves, after };
  });
}
