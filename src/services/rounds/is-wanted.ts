import type { Decision } from "@/core/rounds";
import type { Action } from "@/store";

/** True where just this is to be done by a decision. In doubt it is not. */
export function isWanted(action: Pick<Action, "verb" | "level">, decision: Decision | undefined): boolean {
  const wanted = decision?.verdict === "act" ? decision.action : null;
  return wanted?.verb === action.verb && wanted.level === action.level;
}
