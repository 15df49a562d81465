type Step = Readonly<{ at: number; units: number }>;
/** In milliseconds. */
type Firm = Readonly<{ most: number; provisionMs: number; setupMs: number; horizonMs: number }>;

/**
 * Firm units over what is wanted, at most so many: nothing takes them, so what they do is the same in all trials. Those of the
 * beginning are up; what a rise asks is billed once it is provisioned and up once it is set up; a fall takes the youngest first.
 * Returns how many are up from each instant on, and the unit-milliseconds billed.
 */
export function firmOver(
  steps: readonly Step[],
  { most, provisionMs, setupMs, horizonMs }: Firm,
): Readonly<{ up: readonly Step[]; unitMs: number }> {
  const turns: { at: number; by: number }[] = [];
  const held: { units: number; billedFrom: number; upFrom: number }[] = [];
  let [count, unitMs] = [0, 0];
  const end = ({ billedFrom, upFrom }: (typeof held)[number], units: number, at: number) => {
    unitMs += units * Math.max(0, Math.min(at, horizonMs) - billedFrom);
    if (upFrom < at) turns.push({ at: upFrom, by: units }, { at, by: -units });
  };
  for (const { at, units } of steps) {
    const wanted = Math.min(most, units);
    if (wanted > count) {
      const isFirst = at === 0;
      const billedFrom = isFirst ? 0 : at + provisionMs;
      held.push({ units: wanted - count, billedFrom, upFrom: isFirst ? 0 : billedFrom + setupMs });
    }
    for (let excess = count - wanted; excess > 0; ) {
      const youngest = held.at(-1) as (typeof held)[number];
      const gone = Math.min(excess, youngest.units);
      end(youngest, gone, at);
      youngest.units -= gone;
      if (youngest.units === 0) held.pop();
      excess -= gone;
    }
    count = wanted;
  }
  for (const one of held) end(one, one.units, Number.POSITIVE_INFINITY);
  return { up: summed(turns), unitMs };
}

function summed(turns: readonly Readonly<{ at: number; by: number }>[]): readonly Step[] {
  const steps: { at: number; units: number }[] = [{ at: 0, units: 0 }];
  for (const { at, by } of [...turns].sort((a, b) => a.at - b.at)) {
    if (at === Number.POSITIVE_INFINITY) break;
    const last = steps.at(-1) as (typeof steps)[number];
    if (last.at === at) last.units += by;
    else steps.push({ at, units: last.units + by });
  }
  return steps;
}
