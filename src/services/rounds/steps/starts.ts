import { endedStarts } from "../keep-starts";
import { nothing, step } from "./round";

/** Ends persons' starts of what is off again. */
export const starts = step({
  name: "starts",
  isRehearsed: false,
  ask: nothing,
  follow: (state) => ({ overrides: { add: [], move: [], end: [{ ids: endedStarts(state), at: state.now, by: "its stop" }] } }),
});
