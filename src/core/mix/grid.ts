import type { Beta, Gamma } from "./known";

/** So many values from one to another whose steps are equal multiples. */
export function ladder(from: number, to: number, count: number): readonly number[] {
  return Array.from({ length: count }, (_, i) => from * (to / from) ** (i / (count - 1)));
}

/** How likely a Gamma has a value, on a ladder; in logarithms, but for what is the same of all values. */
export function lnGammaAt({ shape, rate }: Gamma, value: number): number {
  return shape * Math.log(value) - rate * value;
}

/** Weights of what was weighed in logarithms; they add up to 1. */
export function weightsOf(logs: readonly number[]): readonly number[] {
  const most = logs.reduce((top, ln) => Math.max(top, ln), Number.NEGATIVE_INFINITY);
  const weights = logs.map((ln) => Math.exp(ln - most));
  const sum = weights.reduce((total, weight) => total + weight, 0);
  return weights.map((weight) => weight / sum);
}

/** The mean of weighed values. */
export function meanBy(values: readonly number[], weights: readonly number[]): number {
  return values.reduce((sum, value, i) => sum + value * (weights[i] as number), 0);
}

/** No less than a fifth of the mean is unsure: values lie no closer on a ladder. */
const LEAST_SPREAD = 0.2;

/** The Gamma that has the mean and variance of weighed values. */
export function gammaOf(values: readonly number[], weights: readonly number[]): Gamma {
  const mean = meanBy(values, weights);
  const variance = meanBy(
    values.map((value) => (value - mean) ** 2),
    weights,
  );
  const spread = Math.max((LEAST_SPREAD * mean) ** 2, variance);
  return { shape: (mean * mean) / spread, rate: mean / spread };
}

/** The Beta that has the mean and variance of weighed shares. */
export function betaOf(shares: readonly number[], weights: readonly number[]): Beta {
  const mean = meanBy(shares, weights);
  const variance = meanBy(
    shares.map((share) => (share - mean) ** 2),
    weights,
  );
  const count = (mean * (1 - mean)) / Math.max(variance, 1e-4) - 1;
  return { taken: mean * count, spared: (1 - mean) * count };
}
