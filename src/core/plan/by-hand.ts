import type { Level } from "../hours";
import type { FleetPlan } from "./file";

/** True of a plan whose machines are started by hand: it only ever lowers. This is the one place that says so. */
export function onlyLowers({ starts }: Pick<FleetPlan, "starts">): boolean {
  return starts === "hand";
}

/** What a plan asks of something at a level, where another is due; null: it leaves it as it is. */
export function askedOf(
  plan: Pick<FleetPlan, "starts">,
  { due, level }: Readonly<{ due: Level | null; level: Level }>,
): Level | null {
  return due !== null && due > level && onlyLowers(plan) ? null : due;
}
