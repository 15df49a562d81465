import type { Instant } from "@/core/time";
import type { ClockReading } from "@/provider";
import { signal } from "@/store";
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

/** Impact a demo's clock: faster, to an instant, or to the next edge of any fleet in force. Forward only. */
export async function moveClock(services: Services, person: Person, move: ClockMove): Promise<ClockReading> {
  authorise(person, "move the clock");
  const before = await services.clock.read();
  if (!before.isDemo) throw new RefusedError("invalid", "The real clock cannot be moved.");
  const reading = await moved(services, person, { move, now: before.now });
  await signal(services.pool, "clock");
  return reading;
}

async function moved(
  services: Services,
  person: Person,
  { move, now }: { move: ClockMove; now: Instant },
): Promise<ClockReading> {
  switch (move.kind) {
    case "rate":
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
