import type { Level } from "../hours";
import { isRunningState, type ResourceState } from "../plan";
import type { Instant } from "../time";
import type { Verb } from "./action";

/** A change of state as a provider told it. */
export type Change = Readonly<{ at: Instant; type: string; state: ResourceState; level: Level; note: string }>;

/** What was asked of a provider, with when it was sent and when it came to its end; null while neither. */
export type Asked = Readonly<{ verb: Verb; sentAt: Instant | null; endedAt: Instant | null }>;

/** What began or ended a run: an action of ours, or, where none can have, something that its provider told. */
export type Cause<A extends Asked> = Readonly<{ action: A | null; told: string }>;

/** A stretch in which something ran, as one: from its start to its stop, with what began and what ended it. */
export type Run<A extends Asked> = Readonly<{
  /** Null where it ran already when it was first told of. */
  from: Instant | null;
  /** Null while it goes on. */
  to: Instant | null;
  /** The most that ran. */
  level: Level;
  began: Cause<A> | null;
  ended: Cause<A> | null;
  /** What it was after it. */
  endState: ResourceState | null;
}>;

const RISES: readonly Verb[] = ["start", "resize"];
const FALLS: readonly Verb[] = ["stop", "hibernate", "resize"];
/** Two clocks: a provider may tell of a change a moment before the instant an action was marked as sent. */
const SLACK_S = 2;

/** True where an action may have brought about a rise, or else a fall, at an instant: it was sent by then, and had not ended. */
export function mayHaveCaused(action: Asked, { at, isRise }: Readonly<{ at: Instant; isRise: boolean }>): boolean {
  if (action.sentAt === null || !(isRise ? RISES : FALLS).includes(action.verb)) return false;
  return action.sentAt <= at + SLACK_S && at <= (action.endedAt ?? Number.POSITIVE_INFINITY) + SLACK_S;
}

/** The runs that changes tell of, both in order of time. */
export function runsOf<A extends Asked>(changes: readonly Change[], actions: readonly A[]): readonly Run<A>[] {
  const causeOf = (change: Change, isRise: boolean): Cause<A> => ({
    action: actions.findLast((action) => mayHaveCaused(action, { at: change.at, isRise })) ?? null,
    told: change.note === "" ? change.type : `${change.type}, ${change.note}`,
  });
  const runs: Run<A>[] = [];
  let open: Run<A> | null = null;
  /** The change that says it is on its way down. */
  let falling: Change | null = null;
  changes.forEach((change, i) => {
    const isOn = isRunningState(change.state) && !(change.state === "stopping" && open === null && i > 0);
    if (isOn && open === null) {
      open = {
        from: i > 0 ? change.at : null,
        to: null,
        level: change.level,
        began: i > 0 ? causeOf(change, true) : null,
        ended: null,
        endState: null,
      };
      falling = null;
    } else if (open !== null && isOn) {
      if (change.level > open.level) open = { ...open, level: change.level };
      falling = change.state === "stopping" ? (falling ?? change) : null;
    } else if (open !== null) {
      runs.push({ ...open, to: change.at, ended: causeOf(falling ?? change, false), endState: change.state });
      open = null;
    }
  });
  if (open !== null) runs.push(open);
  return runs;
}
