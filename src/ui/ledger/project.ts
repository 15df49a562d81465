import type { FleetPlan } from "@/core/plan";
import {
  type Baselines,
  baselinesOf,
  type IdleLever,
  type Line,
  leversOf,
  type MixLever,
  type PeopleUse,
  type Projection,
  projectLevers,
  sizedLines,
} from "@/core/projection";
import type { Basis } from "@/services";
import { capabilitiesOf, type Reckoning } from "./first-round";

/** What a plan is laid on, with its baselines: the same at every brick that is painted. */
export type Laid = Readonly<{ lines: readonly Line[]; baselines: Baselines }>;

/** Lines as the plan sizes them, and what they cost without it. */
export function laidUnder(lines: readonly Line[], basis: Basis, size: FleetPlan["size"]): Laid {
  const sized = sizedLines(lines, { size });
  const { months, days, spare } = basis;
  return { lines: sized, baselines: baselinesOf({ lines: sized, months, days, spare }) };
}

/** What was tried on the weeks before, or simulated; each null until it was. */
export type Tried = Readonly<{ idle?: IdleLever | null; people?: PeopleUse | null; mix?: MixLever | null }>;

/** The plan's projection over the basis, by the same core as everything else; without a plan that reads, the baselines alone. */
export function projectionOf(
  { lines, baselines }: Laid,
  { basis, plan, schedules }: Reckoning,
  { idle = null, people = null, mix = null }: Tried = {},
): Projection {
  const { months, days, spare } = basis;
  const resources = basis.lines.map(({ resource }) => resource);
  const hasHours = plan !== null && plan.hours !== undefined;
  const levers = hasHours ? leversOf(plan, resources, { schedules, capabilities: capabilitiesOf(basis), people }) : [];
  const others = [idle, mix].filter((lever) => lever !== null);
  return projectLevers({ lines, levers: [...levers, ...others], months, days, spare }, baselines);
}
