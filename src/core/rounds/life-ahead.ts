import type { Level } from "../hours";
import { askedOf, type Capabilities, isRunningState, type Resource, type ResourceState } from "../plan";
import type { Instant } from "../time";
import { whyNoHibernation } from "./action";
import type { Following } from "./due-edges";
import { type DueSpan, dueOver } from "./due-over";
import { highestLevel } from "./own-size";

/** A stretch of a life to come. */
export type AheadSpan = Readonly<{ from: Instant; to: Instant; state: ResourceState; level: Level }>;

/**
 * What a resource will be over `[from, to)` if its plan is kept and all else stays as it is at
 * `from`: each change happens at its instant and takes no time. Without a plan it stays as it is.
 */
export function lifeAhead(
  resource: Resource,
  following: Following | null,
  { from, to, capabilities }: Readonly<{ from: Instant; to: Instant; capabilities: Capabilities | undefined }>,
): readonly AheadSpan[] {
  if (from >= to) return [];
  const { state, level } = resource;
  if (!following || !capabilities) return [{ from, to, state, level }];
  const spans: AheadSpan[] = [];
  let now: AheadSpan = { from, to: from, state: settled(state), level };
  for (const due of dueOver(resource, following, { from, to })) {
    const next = movedTo(resource, now, { due, following, capabilities });
    if (spans.length > 0 && next.state === now.state && next.level === now.level) {
      now = { ...now, to: due.to };
      spans[spans.length - 1] = now;
      continue;
    }
    now = { from: due.from, to: due.to, ...next };
    spans.push(now);
  }
  return spans;
}

/** What is on its way has got there: nobody knows how long it takes. */
function settled(state: ResourceState): ResourceState {
  return state === "starting" ? "running" : state;
}

type Move = Readonly<{ due: DueSpan; following: Following; capabilities: Capabilities }>;

function movedTo(
  resource: Resource,
  { state, level }: Pick<AheadSpan, "state" | "level">,
  { due, following: { fleet }, capabilities }: Move,
): Pick<AheadSpan, "state" | "level"> {
  if (due.level === null || state === "gone") return { state, level };
  const most = Math.min(due.level, highestLevel(resource)) as Level;
  // By hand a plan only ever lowers; what it has lowered stays down until somebody starts it.
  if (askedOf(fleet, { due: most, level }) === null) return { state, level };
  if (most > 0) return { state: "running", level: most };
  if (state === "halted" && !capabilities.billedWhenHalted) return { state, level };
  if (!isRunningState(state) && state !== "halted") return { state, level };
  const hibernates =
    state !== "halted" && (due.offAction ?? fleet.offAction) === "hibernate" && whyNoHibernation(resource, capabilities) === null;
  return { state: hibernates ? "hibernated" : "stopped", level: 0 as Level };
}
