import { NOTHING_TRIED } from "../send-actions";
import { applyChanges } from "./apply";
import { decide } from "./decide";
import { idle } from "./idle";
import { mix } from "./mix";
import { pools } from "./pools";
import { read } from "./read";
import { record } from "./record";
import type { Round, RoundState, Step } from "./round";
import { send } from "./send";
import { settle } from "./settle";
import { signIns } from "./sign-ins";
import { watchSteps } from "./standstill";
import { starts } from "./starts";
import { tell } from "./tell";

export type { Round, RoundState } from "./round";

/** A round from its beginning to its end. A lever that comes gets a step of its own here. */
export const STEPS: readonly Step[] = [read, settle, idle, starts, signIns, pools, decide, record, send, mix, tell];

/** Takes one step after the other; what each changes is written before the next begins. */
export async function takeSteps(round: Round, steps: readonly Step[] = STEPS): Promise<RoundState> {
  let state = begun(round);
  const watch = watchSteps(round.id);
  try {
    for (const step of steps) {
      if (state.isRehearsal && !step.isRehearsed) continue;
      state = await applyChanges(round, state, await step.take(round, state));
      watch.ended(step.name);
    }
  } finally {
    watch.close();
  }
  return state;
}

/** What a round knows before it has read anything. */
function begun({ now, mode, fleet }: Round): RoundState {
  return {
    now,
    isRehearsal: mode === "rehearse",
    fleet,
    snapshot: {
      accounts: [],
      capabilities: new Map(),
      resources: [],
      schedulable: [],
      fleets: [],
      schedules: [],
      calendars: [],
      likely: new Map(),
    },
    overrides: [],
    closed: new Map(),
    open: [],
    held: new Map(),
    members: [],
    before: null,
    rules: "",
    decided: { decisions: [], wanted: new Map(), seen: new Map() },
    changed: 0,
    tried: NOTHING_TRIED,
    kept: 0,
  };
}
