/** How often each capacity was seen at each of some instants: what the fan is drawn from. */
export type Fan = Readonly<{
  /** From one instant to the next; the first is 0. */
  everyMs: number;
  points: number;
  /** Units of a bin; of a mix of more than BINS_MAX units they stand for more than one. */
  unitsPerBin: number;
  bins: number;
  /** points x bins: trials with that capacity. */
  counts: Uint32Array;
}>;

const BINS_MAX = 500;

/** An empty fan of so many instants, evenly over the horizon. */
export function emptyFan(horizonMs: number, points: number, mostUnits: number): Fan {
  const unitsPerBin = Math.ceil((mostUnits + 1) / BINS_MAX);
  const bins = Math.floor(mostUnits / unitsPerBin) + 1;
  return { everyMs: horizonMs / points, points, unitsPerBin, bins, counts: new Uint32Array(points * bins) };
}

/** Adds the counts of one to another. */
export function addFan(to: Fan, from: Fan): void {
  for (let i = 0; i < to.counts.length; i++) to.counts[i] = (to.counts[i] as number) + (from.counts[i] as number);
}

/** The capacity under or at which a share of the trials were, instant by instant: nearest rank, in units. */
export function fanLine({ points, bins, unitsPerBin, counts }: Fan, percent: number): Int32Array {
  const line = new Int32Array(points);
  for (let p = 0; p < points; p++) {
    let trials = 0;
    for (let bin = 0; bin < bins; bin++) trials += counts[p * bins + bin] as number;
    const rank = Math.ceil((trials * percent) / 100);
    let seen = 0;
    let bin = 0;
    while (bin < bins - 1 && seen + (counts[p * bins + bin] as number) < rank) seen += counts[p * bins + bin++] as number;
    line[p] = bin * unitsPerBin;
  }
  return line;
}
