import type { Instant } from "../time";
import { columnIn, type Samples } from "./columns";
import type { Percentiles } from "./worth";

/** A metric bin by bin; null where no sample lies in a bin. */
export type Envelope = Readonly<{ from: Instant; binS: number; bins: readonly (Percentiles | null)[]; highest: number }>;

export type EnvelopeAsked = Readonly<{
  metric: string;
  /** By its place; null: all. */
  resource: number | null;
  bins: number;
  /** A part of the span; all of it where null. */
  span?: Readonly<{ from: Instant; to: Instant }> | null;
}>;

/**
 * The 5th, 50th and 95th percentile of a metric's samples in each of `bins` equal bins of the span: over all resources, or of one. By
 * nearest rank. `highest` is the 95th percentile of all, what a picture has to show.
 */
export function envelopeOf(samples: Samples, { metric, resource, bins, span = null }: EnvelopeAsked): Envelope {
  const { count, stepS, firstEnd, resources } = samples.head;
  const which = resource === null ? resources.map((_, i) => i) : [resource];
  const columns = which.map((i) => columnIn(samples, metric, i));
  const slotAt = (t: Instant) => Math.max(0, Math.min(count, Math.round((t - (firstEnd - stepS)) / stepS)));
  const [first, last] = span ? [slotAt(span.from), slotAt(span.to)] : [0, count];
  const perBin = Math.max(1, Math.ceil((last - first) / bins));
  const own = new Float64Array(perBin * columns.length);
  const result: (Percentiles | null)[] = [];
  let highest = 0;
  for (let from = first; from < last; from += perBin) {
    let n = 0;
    for (const column of columns)
      for (let i = from; i < Math.min(last, from + perBin); i++) {
        const value = column[i] as number;
        if (!Number.isNaN(value)) own[n++] = value;
      }
    if (n === 0) {
      result.push(null);
      continue;
    }
    const sorted = own.subarray(0, n).sort();
    const rank = (p: number) => sorted[Math.ceil((n * p) / 100) - 1] as number;
    const bin = { p5: rank(5), p50: rank(50), p95: rank(95) };
    if (bin.p95 > highest) highest = bin.p95;
    result.push(bin);
  }
  return { from: firstEnd - stepS + first * stepS, binS: perBin * stepS, bins: result, highest };
}
