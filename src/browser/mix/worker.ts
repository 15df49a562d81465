import {
  joinStretches,
  mixFigures,
  type StretchResult,
  simulateStretch,
  trialSeconds,
  withChoice,
  withPricesAhead,
} from "@/core/mix";
import type { Answer, Ask, Laid } from "./messages";

/**
 * Simulates a mix in ever longer stretches, so that a first picture is there at once and gets finer, and the points of
 * a frontier one by one. Gives way between two pieces: whatever is asked anew ends what was under way. Each turn of so many
 * trials has prices of its own, drawn by those that were seen; points share them.
 */
const FIRST_TRIALS = 40;
const TRIALS_A_TURN = 10;
const MOST_TRIALS = 2_000;
const POINT_TRIALS = 200;
/** A month has fewer where they would take longer than so many seconds, but as many as its percentiles need. */
const MONTH_TRIALS = { most: 200, least: 40, seconds: 0.5 };
/** Half-hours of a week; of other lengths as many. */
const FAN_POINTS = 336;

const current = { simulate: 0, frontier: 0, months: 0 };
const tell = (answer: Answer): void => postMessage(answer);
const giveWay = () => new Promise((resolve) => setTimeout(resolve, 0));

addEventListener("message", ({ data: ask }: MessageEvent<Ask>) => {
  if (ask.kind === "cancel") {
    current[ask.of] = 0;
    return;
  }
  current[ask.kind] = ask.id;
  const work = ask.kind === "simulate" ? simulate(ask) : ask.kind === "frontier" ? frontier(ask) : months(ask);
  work.catch((error) => tell({ kind: "failed", id: ask.id, message: error instanceof Error ? error.message : String(error) }));
});

async function simulate({ id, seed, ...laid }: Extract<Ask, { kind: "simulate" }>): Promise<void> {
  let all: StretchResult | null = null;
  let done = 0;
  while (done < MOST_TRIALS) {
    const count = Math.min(MOST_TRIALS - done, Math.max(FIRST_TRIALS, done));
    const stretch = { seed, first: done, count, fanPoints: FAN_POINTS };
    const part = await inPieces(laid, stretch, () => current.simulate === id);
    if (!part) return;
    all = all ? joinStretches([all, part]) : part;
    done += count;
    if (!all.fan) return;
    tell({ kind: "simulated", id, figures: mixFigures(all.outcomes), fan: all.fan, trials: done, isDone: done >= MOST_TRIALS });
  }
}

type Piecewise = Readonly<{ seed: number; first: number; count: number; fanPoints: number }>;

/** A stretch in pieces of some ten milliseconds; null where something newer was asked meanwhile. */
async function inPieces(laid: Laid, stretch: Piecewise, isCurrent: () => boolean): Promise<StretchResult | null> {
  const { seed, first, count, fanPoints } = stretch;
  const { days } = laid;
  const parts: StretchResult[] = [];
  for (let at = 0; at < count; at += FIRST_TRIALS) {
    await giveWay();
    if (!isCurrent()) return null;
    const end = Math.min(count, at + FIRST_TRIALS);
    for (let from = at; from < end; from += TRIALS_A_TURN) {
      const mix = withPricesAhead(laid.mix, laid.prices, { turn: Math.floor((first + from) / TRIALS_A_TURN), days });
      const size = Math.min(TRIALS_A_TURN, end - from);
      parts.push(simulateStretch(mix, { seed, days, first: first + from, count: size, fanPoints }));
    }
  }
  return joinStretches(parts);
}

async function months({ id, seed, months }: Extract<Ask, { kind: "months" }>): Promise<void> {
  const figures = [];
  for (const laid of months) {
    const { most, least, seconds } = MONTH_TRIALS;
    const affordable = Math.floor(seconds / trialSeconds(laid.mix, laid.days));
    const count = Math.max(least, Math.min(most, affordable));
    const part = await inPieces(laid, { seed, first: 0, count, fanPoints: 0 }, () => current.months === id);
    if (!part) return;
    figures.push(mixFigures(part.outcomes));
  }
  // All at once: a ledger that moves twelve times says less than one that moves once.
  tell({ kind: "months", id, figures });
}

async function frontier({ id, mix, days, prices, seed, choices }: Extract<Ask, { kind: "frontier" }>): Promise<void> {
  const points = [];
  const stretch = { seed, first: 0, count: POINT_TRIALS, fanPoints: 0 };
  for (const choice of choices) {
    const part = await inPieces({ mix: withChoice(mix, choice), days, prices }, stretch, () => current.frontier === id);
    if (!part) return;
    const { cost, missingUnitHours, atLeastFloor } = mixFigures(part.outcomes);
    points.push({ ...choice, cost: cost.mean, missingUnitHours: missingUnitHours.mean, atLeastFloor });
    tell({ kind: "points", id, points });
  }
}
