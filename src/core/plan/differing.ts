import { isSameJson } from "../same";
import { type FleetDraft, planToDraft } from "./draft";
import type { FleetPlan } from "./file";

/** A part of a plan that may differ by itself. A name is changed apart, and says nothing of what a plan does. */
export type PlanKey = Exclude<keyof FleetDraft, "name">;

/** Every part, in the order in which a plan is read. */
export const PLAN_KEYS = [
  "select",
  "hours",
  "schedule",
  "lead",
  "offAction",
  "starts",
  "enforce",
  "grace",
  "size",
  "pooled",
  "mix",
  "unhealthy",
  "idle",
] as const satisfies readonly PlanKey[];

/** What is left out says as much as what stands there by default. */
const DEFAULTS: Readonly<Partial<Record<PlanKey, unknown>>> = { unhealthy: "replace", idle: [] };

/** The parts in which two drafts differ, compared as data: how they read is another matter. */
export function differingKeys(one: FleetDraft, other: FleetDraft): readonly PlanKey[] {
  const said = (draft: FleetDraft, key: PlanKey) => draft[key] ?? DEFAULTS[key] ?? null;
  return PLAN_KEYS.filter((key) => !isSameJson(said(one, key), said(other, key)));
}

/** The parts in which a draft differs from the plan in force; null where none is. */
export function changedKeys(draft: FleetDraft, inForce: FleetPlan | null): readonly PlanKey[] | null {
  return inForce && differingKeys(planToDraft(inForce), draft);
}
