import { stringify } from "yaml";
import { type Calendar, type Schedule, scheduleToFile } from "../hours";
import { type FleetPlan, GRACE_MINUTES } from "./file";

export type PlanFormat = "yaml" | "json";

/** A plan as it is held in memory. */
export type WholePlan = Readonly<{
  umbrik: 1;
  currency: string;
  calendars: readonly Calendar[];
  schedules: readonly Schedule[];
  fleets: readonly FleetPlan[];
}>;

/** A plan as a plan file of version 1 (docs/plan-format.md); reading it again gives the same plan. */
export function planToText(plan: WholePlan, format: PlanFormat): string {
  const file = {
    umbrik: plan.umbrik,
    currency: plan.currency,
    calendars: plan.calendars.map(calendarToFile),
    schedules: plan.schedules.map((schedule) => scheduleToFile(schedule)),
    fleets: plan.fleets.map(fleetToFile),
  };
  return format === "json" ? `${JSON.stringify(file, null, 2)}\n` : stringify(file, { lineWidth: 0, compat: "yaml-1.1" });
}

function calendarToFile({ name, rest, holidays }: Calendar): Record<string, unknown> {
  return { name, rest: [...rest], holidays: [...holidays] };
}

function fleetToFile({
  name,
  select,
  hours,
  lead,
  offAction,
  starts,
  enforce,
  grace,
  size,
  idle,
  mix,
  unhealthy,
  pooled,
}: FleetPlan): Record<string, unknown> {
  return {
    name,
    select,
    ...(hours === undefined ? {} : { hours }),
    lead,
    offAction,
    starts,
    enforce,
    ...(grace === GRACE_MINUTES ? {} : { grace }),
    ...(size === undefined ? {} : { size }),
    ...(idle === undefined ? {} : { idle }),
    ...(mix === undefined ? {} : { mix }),
    ...(unhealthy === undefined ? {} : { unhealthy }),
    ...(pooled === undefined ? {} : { pooled }),
  };
}
