import { type Mix, simulateStretch } from "@/core/mix";
import type { StudySums } from "@/store";

export type SumsAsked = Readonly<{ mix: Mix; days: number; seed: number; first: number; count: number }>;

/** Sums over a stretch of trials, added in their order: the same wherever they are run. */
export function sumTrials({ mix, ...stretch }: SumsAsked): StudySums {
  const { outcomes } = simulateStretch(mix, { ...stretch, fanPoints: 0 });
  let [cost, missing, floor] = [0, 0, 0];
  for (let i = 0; i < stretch.count; i++) {
    cost += outcomes.cost[i] as number;
    missing += outcomes.missingUnitHours[i] as number;
    floor += outcomes.atLeastFloor[i] as number;
  }
  return [cost, missing, floor];
}
