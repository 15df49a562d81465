import type { Pooled } from "../plan";
import { type Instant, MINUTE_S } from "../time";

/** What is known of the sessions of one machine. Instants are ends of slots. */
export type Sessions = Readonly<{
  /** The last slot that said something. */
  at: Instant;
  active: number;
  disconnected: number;
  /** The end of the last slot in which somebody was active; null where none is known. */
  lastActiveAt: Instant | null;
  /** The beginning of the slots, up to the last, that had somebody disconnected; null where nobody is. */
  disconnectedSince: Instant | null;
}>;

/** Sessions that say nothing for so long are unknown. */
export const UNKNOWN_S = 10 * MINUTE_S;

/** Reads the sessions of a machine from its samples, slot by slot in order of time; null without one. */
export function sessionsOf(
  samples: readonly Readonly<{ metric: string; at: Instant; stepS: number; value: number }>[],
): Sessions | null {
  let at = Number.NEGATIVE_INFINITY;
  let [active, disconnected] = [0, 0];
  let lastActiveAt: Instant | null = null;
  let disconnectedSince: Instant | null = null;
  for (const sample of samples) {
    if (sample.metric === "sessions.active") {
      active = sample.value;
      if (sample.value > 0) lastActiveAt = sample.at;
    } else if (sample.metric === "sessions.disconnected") {
      disconnected = sample.value;
      if (sample.value <= 0) disconnectedSince = null;
      else disconnectedSince ??= sample.at - sample.stepS;
    } else continue;
    if (sample.at > at) at = sample.at;
  }
  return at === Number.NEGATIVE_INFINITY ? null : { at, active, disconnected, lastActiveAt, disconnectedSince };
}

/** What is known of a machine's sessions with what its provider told since the last sample: that somebody signed in, or off. */
export function withEvent(
  sessions: Sessions | null,
  event: Readonly<{ at: Instant; type: "sign-in" | "sign-off" }> | undefined,
): Sessions | null {
  if (!event || (sessions !== null && event.at <= sessions.at)) return sessions;
  const isIn = event.type === "sign-in";
  return {
    at: event.at,
    active: isIn ? 1 : 0,
    disconnected: isIn ? (sessions?.disconnected ?? 0) : 0,
    lastActiveAt: event.at,
    disconnectedSince: isIn ? (sessions?.disconnectedSince ?? null) : null,
  };
}

/** Whether a machine that runs is in use. `since`: when it began to run; what was said before says nothing of it. */
export function isInUse(
  sessions: Sessions | null,
  { pooled, since, now }: Readonly<{ pooled: Pooled; since: Instant; now: Instant }>,
): boolean {
  const saidAt = sessions === null || sessions.at <= since ? since : sessions.at;
  if (now - saidAt >= UNKNOWN_S) return true;
  if (sessions === null || sessions.at <= since) return false;
  if (sessions.active > 0) return true;
  const { disconnectWait, signOffWait } = pooled;
  if (sessions.disconnected > 0 && sessions.disconnectedSince !== null) {
    const until = disconnectWait === null ? Number.POSITIVE_INFINITY : sessions.disconnectedSince + disconnectWait * MINUTE_S;
    return now < until;
  }
  const { lastActiveAt } = sessions;
  return lastActiveAt !== null && lastActiveAt > since && now < lastActiveAt + signOffWait * MINUTE_S;
}
