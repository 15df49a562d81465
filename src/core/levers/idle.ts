import { afterIdle, type IdleLever } from "../projection";
import type { Lever } from "./lever";

/** Idle alarms, as the rules did on the weeks before. */
export const idle: Lever<IdleLever> = {
  kind: "idle",
  words: "idle alarms",
  isPulledBy: (plan) => (plan.idle ?? []).length > 0,
  cause: "idle alarms",
  project: (before, given, { input }) => afterIdle(before, given, input),
};
