import { afterHours, type HoursLever } from "../projection";
import type { Lever } from "./lever";

/** Office hours, and of a pool what its people bring above them. */
export const hours: Lever<HoursLever> = {
  kind: "hours",
  words: "hours",
  isPulledBy: (plan) => plan.hours !== undefined,
  cause: null,
  project: (_, given, laid) => afterHours(given, laid),
};
