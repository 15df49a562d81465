import { afterMix, type MixLever } from "../projection";
import type { Lever } from "./lever";

/** A capacity mix, as it was simulated. */
export const mix: Lever<MixLever> = {
  kind: "mix",
  words: "mix",
  isPulledBy: (plan) => plan.mix !== undefined,
  cause: "the mix",
  project: (before, given, { input }) => afterMix(before, given, input),
};
