import { DEFAULT_LIMITS, type Decision, decide, type RoundInput } from "./decide";

export type FirstRoundInput = Omit<RoundInput, "trips" | "openActions" | "unread" | "limits">;

/** What the next round would decide with nothing to hold it back: no brake, no limit per account, nothing under way. */
export function decideFirstRound(input: FirstRoundInput): readonly Decision[] {
  return decide({
    ...input,
    trips: new Map(),
    openActions: new Map(),
    unread: new Map(),
    limits: { ...DEFAULT_LIMITS, perAccount: Number.POSITIVE_INFINITY, allowedStops: input.resources.length },
  });
}
