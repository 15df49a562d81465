import { DAY_S, type Instant } from "@/core/time";
import type { ClockReading } from "@/provider";
import { lastActRound, overridesFrom, signal } from "@/store";
import { authorise, type Person, RefusedError, type Services } from "../admin";
import { comingEdges } from "./coming";

export async function readClock(services: Services, person: Person): Promise<ClockReading> {
  authorise(person, "look");
  return services.clock.read();
}

export type ClockMove =
  | Readonly<{ kind: "rate"; rate: number }>
  | Readonly<{ kind: "next edge" }>
  | Readonly<{ kind: "to"; to: Instant }>;

/** Moves a demo's clock: faster, to an instant, or to the next edge of any fleet in force. Forward only. */
export async function moveClock(services: Services, person: Person, move: ClockMove): Promise<ClockReading> {
  authorise(person, "move the clock");
  const before = await services.clock.read();
  if (!before.isDemo) throw new RefusedError("invalid", "The real clock cannot be moved.");
  const reading = await moved(services, person, { move, now: before.now });
  await signal(services.pool, "clock");
  return reading;
}

/**
 * Lets a demo's clock that runs fast go no further than the first instant after the last round at which something
 * falls due, so that none passes without its round; it goes on after that. At its own pace rounds keep up with it by
 * themselves.
 */
export async function waitForRounds(
  services: Services,
  person: Person,
  { now, rate }: Pick<ClockReading, "now" | "rate">,
): Promise<void> {
  authorise(person, "look");
  if (rate <= 1) {
    await services.clock.setWaitAt(null);
    return;
  }
  // A round that began before the clock got to where it stands is not the one that it waits for.
  const last = await lastActRound(services.pool);
  const after = last === null ? now : Math.min(now, last.at);
  const [edges, holds] = await Promise.all([
    comingEdges(services, person, { at: after, days: LOOK_DAYS }),
    overridesFrom(services.pool, after),
  ]);
  const instants = [
    ...edges.flatMap(({ at, fallsAway }) => (fallsAway ? [] : [at])),
    ...holds.flatMap(({ from, to }) => [from, to]),
    after + LOOK_DAYS * DAY_S,
  ];
  await services.clock.setWaitAt(Math.min(...instants.filter((at) => at > after)));
}

/** As far as is looked for the next edge; a clock that meets none waits for a round there. */
const LOOK_DAYS = 2;

async function moved(
  services: Services,
  person: Person,
  { move, now }: { move: ClockMove; now: Instant },
): Promise<ClockReading> {
  switch (move.kind) {
    case "rate":
      await waitForRounds(services, person, { now, rate: move.rate });
      return services.clock.setRate(move.rate);
    case "to":
      if (move.to < now) throw new RefusedError("invalid", "The clock never goes back: choose a later time.");
      return services.clock.stepTo(move.to);
    case "next edge": {
      const edges = await comingEdges(services, person, { days: 14 });
      const edge = edges.find(({ fallsAway }) => !fallsAway);
      if (!edge)
        throw new RefusedError("invalid", "No fleet in force has an edge in the next fortnight: put hours in force first.");
      return services.clock.stepTo(edge.at);
    }
  }
}
