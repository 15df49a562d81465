import { poolChanges, poolFacts } from "../../ready";
import { step } from "./round";

/** Chooses which machines of each pool are to be on. */
export const pools = step({
  name: "pools",
  isRehearsed: false,
  ask: ({ services }, state) => poolFacts(services, state),
  follow: (state, sessions) => ({ overrides: poolChanges(state, sessions) }),
});
