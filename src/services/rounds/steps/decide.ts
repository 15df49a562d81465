import { afterChanges, NO_OVERRIDE_CHANGES } from "@/core/rounds";
import { inPieces } from "@/store";
import { startFacts, startsToKeep } from "../keep-starts";
import { decideOn, decidingOn, decisionFacts } from "../round-input";
import { step } from "./round";

/** Decides on every resource. Before anything is lowered it is looked whether a person has started it: then that is kept, and decided anew. */
export const decide = step({
  name: "decide",
  isRehearsed: true,
  ask: async ({ services }, state) => {
    const facts = await decisionFacts(services, state);
    const decided = await inPieces(decidingOn(state, facts));
    return { facts, decided, started: await startFacts(services.pool, state, decided.decisions) };
  },
  follow: (state, { facts, decided, started }) => {
    const add = startsToKeep(state, started);
    if (add.length === 0) return { state: { decided } };
    const asKept = add.map((one, i) => ({ ...one, id: Number.MAX_SAFE_INTEGER - i, name: "", releasedAt: null }));
    const overrides = afterChanges(state.overrides, NO_OVERRIDE_CHANGES, asKept);
    return { overrides: { ...NO_OVERRIDE_CHANGES, add }, state: { decided: decideOn({ ...state, overrides }, facts) } };
  },
});
