import type { Level } from "../hours";
import type { Capabilities, FleetPlan, Resource } from "../plan";

export const VERBS = ["start", "stop", "hibernate", "resize"] as const;
export type Verb = (typeof VERBS)[number];

/** How an action stands, or came to its end. */
export const OUTCOMES = ["recorded", "sent", "done", "refused", "given up"] as const;
export type Outcome = (typeof OUTCOMES)[number];

/** What is asked of a provider; `level` is where the resource ends. */
export type Wanted = Readonly<{ verb: Verb; level: Level; note: string }>;

/** Why a machine cannot be hibernated, or null where it can. */
export function whyNoHibernation(resource: Resource, capabilities: Capabilities): string | null {
  if (resource.kind !== "machine") return "only machines hibernate";
  if (!capabilities.hibernate) return "the provider has no hibernation";
  const { os, memoryGibMax } = capabilities.hibernate;
  if (!os.includes(resource.fields.os ?? "")) return `not for ${resource.fields.os ?? "an unknown OS"} there`;
  if (resource.memoryGib > memoryGibMax)
    return `${resource.memoryGib} GiB of memory, and at most ${memoryGibMax} GiB can be kept there`;
  return null;
}

/** The action that brings a resource to `due`; null where it is there already. Transitions are not judged here. */
export function actionToward(
  resource: Resource,
  due: Level,
  context: { fleet: FleetPlan; capabilities: Capabilities },
): Wanted | null {
  if (resource.kind === "machine") return machineAction(resource, due, context);
  const level = Math.min(due, resource.levelMax) as Level;
  if (resource.target === level) return null;
  const note = level < due ? `at most ${resource.levelMax} there` : "";
  if (resource.kind === "service" && level === 0) return { verb: "stop", level, note };
  return { verb: "resize", level, note };
}

function machineAction(
  resource: Resource,
  due: Level,
  { fleet, capabilities }: { fleet: FleetPlan; capabilities: Capabilities },
): Wanted | null {
  if (due > 0) return resource.state === "running" ? null : { verb: "start", level: 1 as Level, note: "" };
  switch (resource.state) {
    case "stopped":
    case "hibernated":
    case "gone":
      return null;
    case "halted":
      return capabilities.billedWhenHalted
        ? { verb: "stop", level: 0 as Level, note: "shut down from inside and still billed" }
        : null;
    default: {
      const why = fleet.offAction === "hibernate" ? whyNoHibernation(resource, capabilities) : "";
      if (why === null) return { verb: "hibernate", level: 0 as Level, note: "" };
      return { verb: "stop", level: 0 as Level, note: why && `stop instead of hibernate: ${why}` };
    }
  }
}
