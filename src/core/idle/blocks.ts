import { extremesOf, furthestOf, type Means } from "./means";
import type { Condition } from "./rule";

/**
 * What is the same for every threshold that is tried on the samples of one resource: of each block of slots the best mean
 * over a window, and the sample furthest from meeting it. Made when first asked for; dropped with whoever holds it.
 */
export type Blocks = Readonly<{
  extremes: (means: Means) => Float64Array;
  furthest: (values: Float64Array, condition: Condition) => Float64Array;
}>;

export function blocksOf(): Blocks {
  const made = new Map<string, Float64Array>();
  const kept = (key: string, make: () => Float64Array): Float64Array => {
    const known = made.get(key) ?? make();
    made.set(key, known);
    return known;
  };
  return {
    extremes: (means) => {
      const { op, window, metric } = means.condition;
      return kept(`mean ${op[0]} ${window} ${means.coverage} ${metric}`, () => extremesOf(means));
    },
    furthest: (values, condition) => kept(`sample ${condition.op[0]} ${condition.metric}`, () => furthestOf(values, condition)),
  };
}
