import {
  choicesFor,
  choicesOf,
  chosenPoint,
  countsSchema,
  type Figure,
  type FrontierPoint,
  joinStretches,
  type Mix,
  type MixFigures,
  mixFigures,
  mixSchema,
  onFrontier,
  posterior,
  TRIALS_MAX,
  withChoice,
} from "@/core/mix";
import { divideHalfEven, formatMicros, type Micros, tryParseDecimal } from "@/core/pricing";
import { readFile } from "./files";
import { readFlags, wholeFlag } from "./flags";
import { runTasks, stretchesOf, type Task } from "./mix-threads";
import { wrongUse } from "./problem";

/** `mix simulate --mix F --trials N --seed S --days D` */
export async function mixSimulate(args: readonly string[]): Promise<unknown> {
  const flags = readFlags(args, { mix: "required", trials: "required", seed: "required", days: "required" });
  const asked = askedOf(flags);
  const mix = readFile(flags.mix, mixSchema);
  const parts = await runTasks(tasksOf(mix, asked));
  const { cost, saving, ...rest } = mixFigures(joinStretches(parts).outcomes);
  return { cost: moneyFigure(cost), saving: moneyFigure(saving), ...rest };
}

/** `mix frontier --mix F --trials N --seed S --days D [--choices F] [--share P]` */
export async function mixFrontier(args: readonly string[]): Promise<unknown> {
  const flags = readFlags(args, {
    mix: "required",
    trials: "required",
    seed: "required",
    days: "required",
    choices: "optional",
    share: "optional",
  });
  const asked = askedOf(flags);
  const share = flags.share === undefined ? null : shareFlag(flags.share);
  const mix = readFile(flags.mix, mixSchema);
  const choices = choicesOf(mix, flags.choices === undefined ? {} : readFile(flags.choices, choicesFor(mix)));
  const tasks = choices.map((choice) => tasksOf(withChoice(mix, choice), asked));
  const results = await runTasks(tasks.flat());
  let at = 0;
  const points = choices.map((choice, i): FrontierPoint => {
    const own = tasks[i] as readonly Task[];
    const figures = mixFigures(joinStretches(results.slice(at, at + own.length)).outcomes);
    at += own.length;
    return { ...choice, ...meansOf(figures) };
  });
  const on = onFrontier(points);
  const chosen = share === null ? null : chosenPoint(points, share);
  return {
    points: points.map(({ cost, ...point }, i) => ({
      firm: point.firm,
      pools: point.pools,
      order: point.order,
      cost: moneyText(cost),
      missingUnitHours: point.missingUnitHours,
      atLeastFloor: point.atLeastFloor,
      onFrontier: on[i],
    })),
    chosen: chosen && { firm: chosen.firm, pools: chosen.pools, order: chosen.order },
  };
}

/** `mix learn --counts F` */
export function mixLearn(args: readonly string[]): unknown {
  const { counts } = readFlags(args, { counts: "required" });
  const { classes } = readFile(counts, countsSchema);
  return { classes: classes.map(({ name, ...seen }) => ({ name, ...posterior(seen) })) };
}

type Asked = Readonly<{ trials: number; seed: number; days: number }>;

const DAYS_MAX = 3_660;

function askedOf(flags: Readonly<{ trials: string; seed: string; days: string }>): Asked {
  const trials = wholeFlag("trials", flags.trials, 1);
  if (trials > TRIALS_MAX) wrongUse(`--trials ${trials}: at most ${TRIALS_MAX}`);
  const seed = wholeFlag("seed", flags.seed, 0);
  const days = tryParseDecimal(flags.days) === null ? Number.NaN : Number(flags.days);
  if (!(days > 0 && days <= DAYS_MAX)) wrongUse(`--days "${flags.days}": expected a number above 0, at most ${DAYS_MAX}`);
  return { trials, seed, days };
}

function shareFlag(text: string): number {
  const share = tryParseDecimal(text) === null ? Number.NaN : Number(text);
  if (!(share <= 1)) wrongUse(`--share "${text}": expected a number from 0 to 1`);
  return share;
}

function tasksOf(mix: Mix, { trials, seed, days }: Asked): readonly Task[] {
  return stretchesOf(trials).map(({ first, count }) => ({ mix, stretch: { seed, days, first, count, fanPoints: 0 } }));
}

/** The means as they are printed: points are compared by what a reader sees. */
function meansOf({ cost, missingUnitHours, atLeastFloor }: MixFigures): Omit<FrontierPoint, "firm" | "pools" | "order"> {
  return { cost: Number(moneyText(cost.mean)), missingUnitHours: missingUnitHours.mean, atLeastFloor };
}

function moneyFigure({ mean, p5, p50, p95 }: Figure): Readonly<Record<keyof Figure, string>> {
  return { mean: moneyText(mean), p5: moneyText(p5), p50: moneyText(p50), p95: moneyText(p95) };
}

const NANO = 1_000_000_000;

/** Six decimals, rounded half-even. Billionths first: what a sum of binary fractions is off by is far below them. */
function moneyText(money: number): string {
  return formatMicros(divideHalfEven(BigInt(Math.round(money * NANO)), 1_000n) as Micros);
}
