import type { CompiledSchedule } from "../hours";
import type { CapabilitiesByAccount, FleetPlan } from "../plan";
import {
  type Baselines,
  baselinesOf,
  type Figure,
  type HoursLever,
  hoursLeverOf,
  type IdleLever,
  type LeverKind,
  type MixLever,
  type PeopleUse,
  type Projection,
  type ProjectionInput,
  type Step,
} from "../projection";
import type { Selectable } from "../selector";
import { hours } from "./hours";
import { idle } from "./idle";
import type { Effect } from "./lever";
import { mix } from "./mix";

/** What the weeks before and simulations say of a plan's levers; null or missing: nobody knows yet, and the lever is left out. */
export type Evidence = Readonly<{ idle?: IdleLever | null; people?: PeopleUse | null; mix?: MixLever | null }>;

export type PlanProjected = ProjectionInput &
  Readonly<{
    /** Null: only what the lines cost without one. */
    plan: FleetPlan | null;
    /** By line. */
    resources: readonly Selectable[];
    schedules: ReadonlyMap<string, CompiledSchedule>;
    capabilities: CapabilitiesByAccount;
    evidence: Evidence;
  }>;

/** What each lever is laid with; null or missing: it is left out. */
export type GivenLevers = Readonly<{ hours?: HoursLever | null; idle?: IdleLever | null; mix?: MixLever | null }>;

/**
 * What a plan's resources cost with its levers laid one after another, beside always on and as they ran (docs/model.md, Money:
 * projection). Each lever saves the difference of the figures around it, so that the savings add up exactly. Whoever tells
 * what a plan saves asks this. `baselines` are the same whatever the plan is, and may be known already.
 */
export function projectPlan(asked: PlanProjected, baselines?: Baselines): Projection {
  const { plan, resources, schedules, capabilities, evidence } = asked;
  const followed =
    plan && hours.isPulledBy(plan)
      ? hoursLeverOf(plan, resources, { schedules, capabilities, people: evidence.people ?? null })
      : null;
  return layLevers(asked, { ...evidence, hours: followed }, baselines);
}

/** Lays levers over lines, one after another. */
export function layLevers(input: ProjectionInput, given: GivenLevers, baselines: Baselines = baselinesOf(input)): Projection {
  const { alwaysOn, asItRan } = baselines;
  const laid = { input, baselines };
  const lays: readonly (readonly [LeverKind, ((before: Figure) => Effect) | null])[] = [
    [hours.kind, laying(given.hours, (own) => (before) => hours.project(before, own, laid))],
    [idle.kind, laying(given.idle, (own) => (before) => idle.project(before, own, laid))],
    [mix.kind, laying(given.mix, (own) => (before) => mix.project(before, own, laid))],
  ];
  const steps: Step[] = [];
  let before = asItRan ?? alwaysOn;
  for (const [lever, lay] of lays) {
    if (!lay) continue;
    const effect = lay(before);
    steps.push({ lever, ...effect });
    before = effect.after;
  }
  return { months: input.months, alwaysOn, asItRan, steps };
}

function laying<G, R>(given: G | null | undefined, lay: (given: G) => R): R | null {
  return given === null || given === undefined ? null : lay(given);
}
