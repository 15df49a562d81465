import type { Level } from "../hours";
import type { Capabilities, FleetPlan, Resource } from "../plan";

export const VERBS = ["start", "stop", "hibernate", "resize"] as const;
export type Verb = (typeof VERBS)[number];

/** How an action stands, or came to its end. */
export const OUTCOMES = ["recorded", "sent", "done", "refused", "given up"] as const;
export type Outcome = (typeof OUTCOMES)[number];

/** What keeps a machine from being hibernated; memory in GiB. */
export type NoHibernation =
  | Readonly<{ code: "no machine" | "not offered" }>
  | Readonly<{ code: "os"; os: string | null }>
  | Readonly<{ code: "memory"; gib: number; gibMax: number }>;

/** What is to be known of an action beside what it does. */
export type WantedNote =
  | Readonly<{ code: "at most there"; levelMax: number }>
  | Readonly<{ code: "still billed" }>
  | Readonly<{ code: "no hibernation"; because: NoHibernation }>;

/** What is asked of a provider; `level` is where the resource ends. */
export type Wanted = Readonly<{ verb: Verb; level: Level; note: WantedNote | null }>;

/** Why a machine cannot be hibernated, or null where it can. */
export function whyNoHibernation(resource: Resource, capabilities: Capabilities): NoHibernation | null {
  if (resource.kind !== "machine") return { code: "no machine" };
  if (!capabilities.hibernate) return { code: "not offered" };
  const { os, memoryGibMax } = capabilities.hibernate;
  if (!os.includes(resource.fields.os ?? "")) return { code: "os", os: resource.fields.os ?? null };
  return resource.memoryGib > memoryGibMax ? { code: "memory", gib: resource.memoryGib, gibMax: memoryGibMax } : null;
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
  const note = level < due ? ({ code: "at most there", levelMax: resource.levelMax } as const) : null;
  if (resource.kind === "service" && level === 0) return { verb: "stop", level, note };
  return { verb: "resize", level, note };
}

function machineAction(
  resource: Resource,
  due: Level,
  { fleet, capabilities }: { fleet: FleetPlan; capabilities: Capabilities },
): Wanted | null {
  if (due > 0) return resource.state === "running" ? null : { verb: "start", level: 1 as Level, note: null };
  switch (resource.state) {
    case "stopped":
    case "hibernated":
    case "gone":
      return null;
    case "halted":
      return capabilities.billedWhenHalted ? { verb: "stop", level: 0 as Level, note: { code: "still billed" } } : null;
    default: {
      if (fleet.offAction !== "hibernate") return { verb: "stop", level: 0 as Level, note: null };
      const because = whyNoHibernation(resource, capabilities);
      if (because === null) return { verb: "hibernate", level: 0 as Level, note: null };
      return { verb: "stop", level: 0 as Level, note: { code: "no hibernation", because } };
    }
  }
}
