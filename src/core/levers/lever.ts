import type { FleetPlan } from "../plan";
import type { Figure, Laid, LeverKind, Spread } from "../projection";
import type { GapCause } from "../realised";

/** What a lever does: the figure after it, and the spread of what it saves where that is uncertain. */
export type Effect = Readonly<{ after: Figure; spread: Spread | null }>;

/**
 * A lever as everything asks it: the ledger, services, commands and reports. `Given` is what it is laid with: its plan, and
 * what the weeks before or a simulation say of it.
 */
export type Lever<Given> = Readonly<{
  kind: LeverKind;
  /** Its name, as reports say it. */
  words: string;
  /** True of a plan that pulls it. */
  isPulledBy: (plan: FleetPlan) => boolean;
  /** The cause by which a realised day tells what it was worth, less than nothing where it saved; null: what no other lever saved is its. */
  cause: GapCause | null;
  /** What it makes of the figure before it. */
  project: (before: Figure, given: Given, laid: Laid) => Effect;
}>;
