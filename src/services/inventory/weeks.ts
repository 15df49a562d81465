import { isRunningState, type ResourceState } from "@/core/plan";
import { DAY_S, type Instant } from "@/core/time";
import { livesOf } from "@/store";
import { type Actor, authorise, ESTATE, RefusedError, type Services } from "../admin";

/** What a stretch of a life looks like from afar. */
export type WeekState = "on" | "off" | "hibernated" | "halted" | "gone";

/** Seven days of a life: where each stretch begins, as a share of the span, and what it is. */
export type LifeWeek = Readonly<{
  spans: readonly (readonly [from: number, state: WeekState])[];
  /** Hours of it in which something ran. */
  onHours: number;
}>;

export type LifeWeeks = Readonly<{ from: Instant; to: Instant; weeks: Readonly<Record<string, LifeWeek>> }>;

const DAYS = 7;
/** As many as are asked for at once. */
export const WEEKS_MAX = 200;

/** The seven days up to now, or to another instant, of each of the machines asked for, by id. */
export async function lifeWeeks(
  services: Services,
  actor: Actor,
  { ids, at }: { ids: readonly string[]; at: Instant | null },
): Promise<LifeWeeks> {
  authorise(actor, "look", ESTATE);
  if (ids.length > WEEKS_MAX) throw new RefusedError("invalid", `At most ${WEEKS_MAX} machines are asked for at once.`);
  const { now } = await services.clock.read();
  const to = Math.min(at ?? now, now);
  const from = to - DAYS * DAY_S;
  const lives = await livesOf(services.pool, ids, { from, to });
  const weeks = [...lives].map(([id, life]): [string, LifeWeek] => {
    const spans: [number, WeekState][] = [];
    let onS = 0;
    for (const span of life) {
      if (span.to <= from) continue;
      const begin = Math.max(span.from, from);
      const state = stateOf(span.state);
      if (state === "on") onS += span.to - begin;
      if (spans.at(-1)?.[1] !== state) spans.push([Math.round(((begin - from) / (to - from)) * 10_000) / 10_000, state]);
    }
    return [id, { spans, onHours: Math.round(onS / 3600) }];
  });
  return { from, to, weeks: Object.fromEntries(weeks) };
}

function stateOf(state: ResourceState): WeekState {
  if (isRunningState(state)) return "on";
  return state === "hibernated" || state === "halted" || state === "gone" ? state : "off";
}
