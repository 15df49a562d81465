import { joinStretches, type Mix, mixFigures, type StretchResult, simulateStretch, withChoice } from "@/core/mix";
import type { Answer, Ask } from "./messages";

/**
 * Simulates a mix in ever longer stretches, so that a first picture is there at once and gets finer, and the points of
 * a frontier one by one. Gives way between two stretches: whatever is asked anew ends what was under way.
 */
const FIRST_TRIALS = 40;
const MOST_TRIALS = 2_000;
const POINT_TRIALS = 200;
/** Half-hours of a week; of other lengths as many. */
const FAN_POINTS = 336;

const current = { simulate: 0, frontier: 0 };
const tell = (answer: Answer): void => postMessage(answer);
const giveWay = () => new Promise((resolve) => setTimeout(resolve, 0));

addEventListener("message", ({ data: ask }: MessageEvent<Ask>) => {
  if (ask.kind === "cancel") {
    current[ask.of] = 0;
    return;
  }
  current[ask.kind] = ask.id;
  const work = ask.kind === "simulate" ? simulate(ask) : frontier(ask);
  work.catch((error) => tell({ kind: "failed", id: ask.id, message: error instanceof Error ? error.message : String(error) }));
});

async function simulate({ id, mix, days, seed }: Extract<Ask, { kind: "simulate" }>): Promise<void> {
  let all: StretchResult | null = null;
  let done = 0;
  while (done < MOST_TRIALS) {
    const count = Math.min(MOST_TRIALS - done, Math.max(FIRST_TRIALS, done));
    const part = await inPieces(mix, { seed, days, first: done, count }, () => current.simulate === id);
    if (!part) return;
    all = all ? joinStretches([all, part]) : part;
    done += count;
    if (!all.fan) return;
    tell({ kind: "simulated", id, figures: mixFigures(all.outcomes), fan: all.fan, trials: done, isDone: done >= MOST_TRIALS });
  }
}

/** A stretch in pieces of some ten milliseconds; null where something newer was asked meanwhile. */
async function inPieces(
  mix: Mix,
  { seed, days, first, count }: Readonly<{ seed: number; days: number; first: number; count: number }>,
  isCurrent: () => boolean,
): Promise<StretchResult | null> {
  const parts: StretchResult[] = [];
  for (let at = 0; at < count; ) {
    await giveWay();
    if (!isCurrent()) return null;
    const size = Math.min(FIRST_TRIALS, count - at);
    parts.push(simulateStretch(mix, { seed, days, first: first + at, count: size, fanPoints: FAN_POINTS }));
    at += size;
  }
  return joinStretches(parts);
}

async function frontier({ id, mix, days, seed, choices }: Extract<Ask, { kind: "frontier" }>): Promise<void> {
  const points = [];
  for (const choice of choices) {
    await giveWay();
    if (current.frontier !== id) return;
    const part = simulateStretch(withChoice(mix, choice), { seed, days, first: 0, count: POINT_TRIALS, fanPoints: 0 });
    const { cost, missingUnitHours, atLeastFloor } = mixFigures(part.outcomes);
    points.push({ ...choice, cost: cost.mean, missingUnitHours: missingUnitHours.mean, atLeastFloor });
    tell({ kind: "points", id, points });
  }
}
