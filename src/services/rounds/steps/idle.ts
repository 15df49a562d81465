import { idleChanges, idleFacts } from "../../idle";
import { step } from "./round";

/** Looks at every idle alarm once. */
export const idle = step({
  name: "idle",
  isRehearsed: false,
  ask: ({ services }, state) => idleFacts(services, state),
  follow: idleChanges,
});
