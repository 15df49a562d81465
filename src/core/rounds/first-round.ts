import { NO_LIMITS } from "./brake";
import { type Decision, decide, type RoundInput } from "./decide";

export type FirstRoundInput = Omit<
  RoundInput,
  "openActions" | "closed" | "setAside" | "seen" | "fellAsKnown" | "fallsAsKnown" | "held" | "approved" | "usualTrips" | "limits"
>;

/** What the next round would decide with nothing to hold it back: no brake, nothing under way. */
export function decideFirstRound(input: FirstRoundInput): readonly Decision[] {
  return decide({
    ...input,
    openActions: new Map(),
    closed: new Map(),
    setAside: new Map(),
    seen: new Map(),
    fellAsKnown: () => false,
    fallsAsKnown: () => false,
    held: new Map(),
    approved: new Set(input.resources.map(({ id }) => id)),
    usualTrips: () => true,
    limits: NO_LIMITS,
  });
}
