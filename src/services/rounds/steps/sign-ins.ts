import { signInFacts, startsForSignIns } from "../../ready";
import { step } from "./round";

/** Keeps a start for whoever signs in at a machine of a pool that is off. */
export const signIns = step({
  name: "sign-ins",
  isRehearsed: false,
  ask: ({ services }, state) => signInFacts(services, state),
  follow: (state, facts) => ({ overrides: { end: [], move: [], add: startsForSignIns(state, facts) } }),
});
