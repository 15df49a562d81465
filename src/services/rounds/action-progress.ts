import type { Resource } from "@/core/plan";
import type { Action } from "@/store";

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
