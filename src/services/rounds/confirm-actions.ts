import type { Resource } from "@/core/plan";
import type { Instant } from "@/core/time";
import { type Action, type Db, saveActionState } from "@/store";

/** Where an open action has got to, by what was read of its resource. */
export type Progress = "done" | "under way" | "not seen" | "gone";

export function progressOf(action: Pick<Action, "verb" | "level">, resource: Resource | undefined): Progress {
  if (!resource) return "gone";
  switch (action.verb) {
    case "start":
      if (resource.state === "running") return "done";
      return resource.state === "starting" ? "under way" : "not seen";
    case "stop":
    case "hibernate":
      if (resource.state === "stopped" || resource.state === "hibernated") return "done";
      return resource.state === "stopping" ? "under way" : "not seen";
    case "resize":
      if (resource.level === action.level) return "done";
      return resource.target === action.level ? "under way" : "not seen";
  }
}

/** Ends the actions that have come to an end, and returns those that have not. */
export async function settleActions(
  db: Db,
  actions: readonly Action[],
  { resources, now }: { resources: ReadonlyMap<string, Resource>; now: Instant },
): Promise<Action[]> {
  const open: Action[] = [];
  for (const action of actions) {
    const progress = progressOf(action, resources.get(action.resourceId));
    const end = (status: Action["status"], lastAnswer: string) =>
      saveActionState(db, action, { ...action, status, lastAnswer, endedAt: now });
    if (progress === "done") await end("done", "seen");
    else if (progress === "gone") await end("given up", "the resource is gone");
    else if (now > action.deadline) await end("given up", `not seen by its deadline; last answer: ${action.lastAnswer}`);
    else open.push(action);
  }
  return open;
}
