import { NO_LIMITS } from "./brake";
import { type Decision, decide, type RoundInput } from "./decide";

export type FirstRoundInput = Omit<
  RoundInput,
  "trips" | "openActions" | "closed" | "setAside" | "seen" | "fellAsKnown" | "fallsAsKnown" | "letGo" | "limits"
>;

/** What the next round would decide with nothing to hold it back: no brake, nothing under way. */
export function decideFirstRound(input: FirstRoundInput): readonly Decision[] {
  return decide({
    ...input,
    trips: new Map(),
    openActions: new Map(),
    closed: new Map(),
    setAside: new Map(),
    seen: new Map(),
    fellAsKnown: () => false,
    fallsAsKnown: () => false,
    letGo: new Set(input.resources.map(({ id }) => id)),
    limits: NO_LIMITS,
  });
}
