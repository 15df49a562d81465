import { MINUTE_S } from "../time";

/** So many samples came so many minutes after the end of their slot. */
export type CameLate = Readonly<{ minutes: number; samples: number }>;

/** What came later still counts as so late. */
export const LATENESS_MAX_MINUTES = 60;

/** Of so many of twenty samples it is said how late they come, at most. */
const OF_TWENTY = 19;

/** The minutes by which a sample comes after the end of its slot (both in seconds); 0 where the slot had not ended. */
export function minutesLate(slotEnd: number, cameAt: number): number {
  return Math.min(LATENESS_MAX_MINUTES, Math.max(0, Math.ceil((cameAt - slotEnd) / MINUTE_S)));
}

/** How late a source usually is, in seconds: the longest of 19 in 20, by nearest rank. Null where nothing has come. */
export function usualLateness(came: readonly CameLate[]): number | null {
  const all = came.reduce((sum, { samples }) => sum + samples, 0);
  if (all === 0) return null;
  const rank = Math.ceil((OF_TWENTY * all) / 20);
  let sum = 0;
  for (const { minutes, samples } of [...came].sort((a, b) => a.minutes - b.minutes)) {
    sum += samples;
    if (sum >= rank) return minutes * MINUTE_S;
  }
  return null;
}
