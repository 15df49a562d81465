import type { Decision } from "@/core/rounds";

/** How many were decided on, and what they came to; `act` is what would be sent. */
export function countsOf(decisions: readonly Decision[]): { resources: number; act: number; waiting: number; braked: number } {
  const count = (verdict: Decision["verdict"]) => decisions.filter((decision) => decision.verdict === verdict).length;
  return { resources: decisions.length, act: count("act"), waiting: count("waiting"), braked: count("braked") };
}
