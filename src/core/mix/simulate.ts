import { type CompiledMix, compileMix, HOUR_MS } from "./compiled";
import { keyOf, under } from "./draws";
import { addFan, emptyFan, type Fan } from "./fan";
import type { Mix } from "./mix";
import { emptyOutcomes, type Figure, figureOf, joinOutcomes, meanOf, type Outcomes } from "./outcomes";
import { Trial } from "./trial";

/** More would keep a machine for hours, and tell no more. */
export const TRIALS_MAX = 1_000_000;

/** Which trials of a simulation are run: those from `first` on. */
export type Stretch = Readonly<{ seed: number; days: number; first: number; count: number; fanPoints: number }>;

/** What a stretch of trials came to; counts of capacity where a fan was asked for. */
export type StretchResult = Readonly<{ outcomes: Outcomes; fan: Fan | null }>;

/**
 * Runs a stretch of the trials of a simulation (docs/model.md). A trial's chance comes from the seed and its own
 * number alone, so stretches may be run anywhere and in any order; whoever wants to end early asks for short ones.
 */
export function simulateStretch(mix: Mix, stretch: Stretch): StretchResult {
  const compiled = compileMix(mix, stretch.days);
  const fan = stretch.fanPoints > 0 ? emptyFan(compiled.horizonMs, stretch.fanPoints, compiled.mostUnits) : null;
  const outcomes = emptyOutcomes(stretch.first, stretch.count);
  const trial = new Trial(compiled, fan);
  const allFirm = trial.allFirmCost;
  const seed = keyOf(stretch.seed);
  for (let i = 0; i < stretch.count; i++) {
    trial.run(under(seed, stretch.first + i));
    note(trial, { outcomes, i, compiled, allFirm });
  }
  return { outcomes, fan };
}

type Noted = Readonly<{ outcomes: Outcomes; i: number; compiled: CompiledMix; allFirm: number }>;

function note(trial: Trial, { outcomes, i, compiled, allFirm }: Noted): void {
  outcomes.cost[i] = trial.cost;
  outcomes.saving[i] = allFirm - trial.cost;
  outcomes.evictions[i] = trial.evictions;
  outcomes.missingUnitHours[i] = trial.missingUnitMs / HOUR_MS;
  outcomes.fallbackHours[i] = trial.fallbackUnitMs / HOUR_MS;
  outcomes.longestShortfallHours[i] = trial.longestShortMs / HOUR_MS;
  outcomes.refillMinutes[i] = trial.refillMinutes;
  outcomes.atLeastFloor[i] = 1 - trial.belowFloorMs / compiled.horizonMs;
}

/** Stretches as one, in the order of trials. */
export function joinStretches(parts: readonly StretchResult[]): StretchResult {
  const fans = parts.flatMap(({ fan }) => (fan ? [fan] : []));
  const [first] = fans;
  let fan: Fan | null = null;
  if (first) {
    fan = { ...first, counts: new Uint32Array(first.counts.length) };
    for (const part of fans) addFan(fan, part);
  }
  return { outcomes: joinOutcomes(parts.map(({ outcomes }) => outcomes)), fan };
}

/** What a mix costs, saves and risks over its days. Money in the prices' currency, hours and minutes as named. */
export type MixFigures = Readonly<{
  cost: Figure;
  saving: Figure;
  evictions: Figure;
  missingUnitHours: Figure;
  fallbackHours: Figure;
  longestShortfallHours: Figure;
  /** Null where nothing was replaced in any trial. */
  refillMinutes: Figure | null;
  /** Share of the time, in the mean over trials, with at least the floor. */
  atLeastFloor: number;
  /** Share of trials that had it all the time. */
  alwaysAtLeastFloor: number;
}>;

/** The figures of a number of trials, at least one. */
export function mixFigures(outcomes: Outcomes): MixFigures {
  const figure = (values: Float64Array) => figureOf(values) as Figure;
  const always = outcomes.atLeastFloor.reduce((count, share) => count + (share === 1 ? 1 : 0), 0);
  return {
    cost: figure(outcomes.cost),
    saving: figure(outcomes.saving),
    evictions: figure(outcomes.evictions),
    missingUnitHours: figure(outcomes.missingUnitHours),
    fallbackHours: figure(outcomes.fallbackHours),
    longestShortfallHours: figure(outcomes.longestShortfallHours),
    refillMinutes: figureOf(outcomes.refillMinutes),
    atLeastFloor: meanOf(outcomes.atLeastFloor),
    alwaysAtLeastFloor: always / outcomes.count,
  };
}
