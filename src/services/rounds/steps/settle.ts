import type { Level } from "@/core/hours";
import { reachedActions } from "@/store";
import { progressOf } from "../action-progress";
import { type EndedAction, step } from "./round";

/** Ends the actions that have come to an end, of accounts that were read. What is done has been acted on. */
export const settle = step({
  name: "settle",
  isRehearsed: false,
  ask: async ({ services }, { open }) => (open.length === 0 ? new Set<number>() : reachedActions(services.pool)),
  follow: ({ open: unsettled, closed, snapshot, now }, reached) => {
    const byId = new Map(snapshot.resources.map((resource) => [resource.id, resource]));
    const open = unsettled.filter(({ account }) => !closed.has(account));
    const ended: EndedAction[] = [];
    const lastDue = new Map<string, Level>();
    const goesOn = open.filter((action) => {
      const progress = progressOf(action, byId.get(action.resourceId), reached.has(action.id));
      const isDone = progress === "done" || progress === "undone";
      if (isDone && action.due !== null) lastDue.set(action.resourceId, action.due);
      if (isDone)
        ended.push({ action, status: "done", lastAnswer: progress === "done" ? "seen" : "seen, and changed by somebody since" });
      else if (progress === "gone") ended.push({ action, status: "given up", lastAnswer: "the resource is gone" });
      else if (now > action.deadline)
        ended.push({ action, status: "given up", lastAnswer: `not seen by its deadline; last answer: ${action.lastAnswer}` });
      else return true;
      return false;
    });
    return { ended, lastDue, state: { open: goesOn } };
  },
});
