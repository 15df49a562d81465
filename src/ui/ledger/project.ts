import { type Evidence, projectPlan } from "@/core/levers";
import type { FleetPlan } from "@/core/plan";
import { type Baselines, baselinesOf, type Line, type Projection, sizedLines } from "@/core/projection";
import type { Basis } from "@/services/cost";
import { capabilitiesOf, type PlanOnBasis } from "./first-round";

/** What a plan is laid on, with its baselines: the same at every brick that is painted. */
export type Laid = Readonly<{ lines: readonly Line[]; baselines: Baselines }>;

/** Lines as the plan sizes them, and what they cost without it. */
export function laidUnder(lines: readonly Line[], basis: Basis, size: FleetPlan["size"]): Laid {
  const sized = sizedLines(lines, { size });
  const { months, days, spare } = basis;
  return { lines: sized, baselines: baselinesOf({ lines: sized, months, days, spare }) };
}

/** The plan's projection over the basis, by the same core as everything else; without a plan that reads, the baselines alone. */
export function projectionOf(
  { lines, baselines }: Laid,
  { basis, plan, schedules }: PlanOnBasis,
  evidence: Evidence = {},
): Projection {
  const { months, days, spare } = basis;
  const resources = basis.lines.map(({ resource }) => resource);
  return projectPlan(
    { plan, lines, resources, schedules, capabilities: capabilitiesOf(basis), evidence, months, days, spare },
    baselines,
  );
}
