import type { Resource } from "@/core/plan";
import type { Instant } from "@/core/time";
import { type Action, type Db, reachedActions, saveActionState, saveLastDue } from "@/store";

/** Where an open action has got to, by what was read of its resource. */
export type Progress = "done" | "under way" | "not seen" | "undone" | "gone";

/** `hasReached`: its provider told of its effect, whatever somebody did after that. */
export function progressOf(
  action: Pick<Action, "verb" | "level" | "sentAt">,
  resource: Resource | undefined,
  hasReached = false,
): Progress {
  if (!resource) return "gone";
  const seen = stateOf(action, resource);
  if (seen !== "not seen" || action.sentAt === null) return seen;
  // It began to run after it was told to stop: somebody started it, whether or not the stop was told.
  const isStop = action.verb === "stop" || action.verb === "hibernate";
  const isStartedSince = isStop && resource.runSince !== null && resource.runSince > action.sentAt;
  return hasReached || isStartedSince ? "undone" : "not seen";
}

function stateOf({ verb, level }: Pick<Action, "verb" | "level">, resource: Resource): Progress {
  switch (verb) {
    case "start":
      if (resource.state === "running") return "done";
      return resource.state === "starting" ? "under way" : "not seen";
    case "stop":
    case "hibernate":
      if (resource.state === "stopped" || resource.state === "hibernated") return "done";
      return resource.state === "stopping" ? "under way" : "not seen";
    case "resize":
      if (resource.level === level) return "done";
      return resource.target === level ? "under way" : "not seen";
  }
}

/** Ends the actions that have come to an end, and returns those that have not. What is done has been acted on. */
export async function settleActions(
  db: Db,
  actions: readonly Action[],
  { resources, now }: { resources: ReadonlyMap<string, Resource>; now: Instant },
): Promise<Action[]> {
  if (actions.length === 0) return [];
  const reached = await reachedActions(db);
  const open: Action[] = [];
  const acted = new Map<string, NonNullable<Action["due"]>>();
  for (const action of actions) {
    const progress = progressOf(action, resources.get(action.resourceId), reached.has(action.id));
    const end = (status: Action["status"], lastAnswer: string) =>
      saveActionState(db, action, { ...action, status, lastAnswer, endedAt: now });
    const isDone = progress === "done" || progress === "undone";
    if (isDone && action.due !== null) acted.set(action.resourceId, action.due);
    if (isDone) await end("done", progress === "done" ? "seen" : "seen, and changed by somebody since");
    else if (progress === "gone") await end("given up", "the resource is gone");
    else if (now > action.deadline) await end("given up", `not seen by its deadline; last answer: ${action.lastAnswer}`);
    else open.push(action);
  }
  await saveLastDue(db, acted);
  return open;
}
