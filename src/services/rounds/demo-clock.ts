import { type Instant, MINUTE_S } from "@/core/time";
import type { ClockReading } from "@/provider";
import { lastActRound, overridesFrom, signal } from "@/store";
import { type Actor, authorise, ESTATE, RefusedError, type Services } from "../admin";
import { comingEdges } from "./coming";

export async function readClock(services: Services, actor: Actor): Promise<ClockReading> {
  authorise(actor, "look", ESTATE);
  return services.clock.read();
}

export type ClockMove =
  | Readonly<{ kind: "rate"; rate: number }>
  | Readonly<{ kind: "next edge" }>
  | Readonly<{ kind: "to"; to: Instant }>;

/** Moves a demo's clock: faster, to an instant, or to the next edge of any fleet in force. Forward only. */
export async function moveClock(services: Services, actor: Actor, move: ClockMove): Promise<ClockReading> {
  authorise(actor, "move the clock", ESTATE);
  const before = await services.clock.read();
  if (!before.isDemo) throw new RefusedError("invalid", "The real clock cannot be moved.");
  const reading = await moved(services, actor, { move, now: before.now });
  await signal(services.pool, "clock");
  return reading;
}

/**
 * Lets a demo's clock that runs fast go no further than five minutes after the last round, and no further than the first instant
 * at which something falls due, so that alarms, pools and mixes are seen at work and no edge passes without its round; it goes on
 * after that. At its own pace rounds keep up with it by themselves.
 */
export async function waitForRounds(
  services: Services,
  actor: Actor,
  { now, rate }: Pick<ClockReading, "now" | "rate">,
): Promise<void> {
  authorise(actor, "look", ESTATE);
  if (rate <= 1) {
    await services.clock.setWaitAt(null);
    return;
  }
  // A round that began before the clock got to where it stands is not the one that it waits for.
  const last = await lastActRound(services.pool);
  const after = last === null ? now : Math.min(now, last.at);
  const [edges, holds] = await Promise.all([
    comingEdges(services, actor, { at: after, days: LOOK_DAYS }),
    overridesFrom(services.pool, after),
  ]);
  const instants = [
    ...edges.flatMap(({ at, fallsAway }) => (fallsAway ? [] : [at])),
    ...holds.flatMap(({ from, to }) => [from, to]),
    after + APART_S,
  ];
  await services.clock.setWaitAt(Math.min(...instants.filter((at) => at > after)));
}

/** So far apart rounds lie at the most, however fast the clock is. */
const APART_S = 5 * MINUTE_S;
/** Edges further off than that are waited for anyway. */
const LOOK_DAYS = 1;

async function moved(services: Services, actor: Actor, { move, now }: { move: ClockMove; now: Instant }): Promise<ClockReading> {
  switch (move.kind) {
    case "rate":
      await waitForRounds(services, actor, { now, rate: move.rate });
      return services.clock.setRate(move.rate);
    case "to":
      if (move.to < now) throw new RefusedError("invalid", "The clock never goes back: choose a later time.");
      return services.clock.stepTo(move.to);
    case "next edge": {
      const edges = await comingEdges(services, actor, { days: 14 });
      const edge = edges.find(({ fallsAway }) => !fallsAway);
      if (!edge)
        throw new RefusedError("invalid", "No fleet in force has an edge in the next fortnight: put hours in force first.");
      return services.clock.stepTo(edge.at);
    }
  }
}
