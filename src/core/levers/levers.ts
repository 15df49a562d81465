import type { FleetPlan } from "../plan";
import type { LeverKind } from "../projection";
import { hours } from "./hours";
import { idle } from "./idle";
import { mix } from "./mix";

/** Every lever there is, in their order. One that comes is added here, and nowhere else is a list of them. */
export const LEVERS = [hours, idle, mix] as const;

/** The levers that a plan pulls, in their order. */
export function leversPulled(plan: FleetPlan): readonly LeverKind[] {
  return LEVERS.flatMap(({ kind, isPulledBy }) => (isPulledBy(plan) ? [kind] : []));
}

/** Levers in words: "hours, idle alarms"; what is none has none. */
export function leverWords(kinds: readonly string[]): string {
  return LEVERS.flatMap(({ kind, words }) => (kinds.includes(kind) ? [words] : [])).join(", ");
}
