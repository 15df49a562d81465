import { asLevel, type Level } from "../hours";
import type { FleetPlan, Resource } from "../plan";

const ONE = asLevel(1);

/** What on means for a resource under a plan: the plan may name the size of its groups. */
export function ownSizeOf({ kind, ownSize }: Pick<Resource, "kind" | "ownSize">, plan: Pick<FleetPlan, "size">): Level {
  if (kind === "machine") return ONE;
  return kind === "group" && plan.size !== undefined ? asLevel(plan.size) : ownSize;
}

/** The most a resource can run at. */
export function highestLevel({ kind, levelMax }: Pick<Resource, "kind" | "levelMax">): Level {
  return kind === "machine" ? ONE : (levelMax as Level);
}
