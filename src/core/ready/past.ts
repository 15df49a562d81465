import type { Pooled } from "../plan";
import { MINUTE_S } from "../time";

/**
 * How many were in use minute by minute, from how many were slot by slot: who came within a slot came at some minute of it,
 * by the seed; who went, at its end. `of`: minutes of a slot.
 */
export function byTheMinute(inUse: Float64Array, of: number, seed: number): Float64Array {
  const minutes = new Float64Array(inUse.length * of);
  let state = seed >>> 0;
  const random = () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return state / 4_294_967_296;
  };
  let before = inUse[0] ?? 0;
  for (let i = 0; i < inUse.length; i++) {
    const now = inUse[i] as number;
    const first = i * of;
    minutes.fill(before, first, first + of);
    for (let came = now - before; came > 0; came--) {
      for (let m = first + Math.floor(random() * of); m < first + of; m++) minutes[m] = (minutes[m] as number) + 1;
    }
    before = now;
  }
  return minutes;
}

/**
 * How many will likely be in use over the coming week, slot by slot: the mean of the same slot of the weeks before, as far back
 * as they are known. `ofWeek`: slots of a week.
 */
export function likelyInUse(inUse: ArrayLike<number>, ofWeek: number): number[] {
  return Array.from({ length: ofWeek }, (_, i) => {
    let [sum, weeks] = [0, 0];
    for (let at = inUse.length + i - ofWeek; at >= 0; at -= ofWeek) {
      sum += inUse[at] as number;
      weeks++;
    }
    return weeks === 0 ? 0 : sum / weeks;
  });
}

/** Adds a machine to how many were in use, slot by slot: by its sessions' samples, NaN where there is none. In place. */
export function addInUse(
  inUse: Float64Array,
  { active, disconnected }: Readonly<{ active: ArrayLike<number>; disconnected: ArrayLike<number> | null }>,
  { waits, stepS }: Readonly<{ waits: Pick<Pooled, "disconnectWait" | "signOffWait">; stepS: number }>,
): void {
  const disconnectSlots = waits.disconnectWait === null ? Number.POSITIVE_INFINITY : (waits.disconnectWait * MINUTE_S) / stepS;
  const signOffSlots = (waits.signOffWait * MINUTE_S) / stepS;
  let lastActive = Number.NEGATIVE_INFINITY;
  let disconnectedFor = 0;
  for (let i = 0; i < inUse.length; i++) {
    const now = active[i] as number;
    const left = disconnected?.[i] ?? 0;
    // Without a sample it did not run, or nobody knows.
    if (Number.isNaN(now)) {
      disconnectedFor = 0;
      lastActive = Number.NEGATIVE_INFINITY;
      continue;
    }
    disconnectedFor = left > 0 ? disconnectedFor + 1 : 0;
    if (now > 0) lastActive = i;
    const isUsed =
      now > 0 || (left > 0 && disconnectedFor <= disconnectSlots) || (i - lastActive <= signOffSlots && signOffSlots > 0);
    if (isUsed) inUse[i] = (inUse[i] as number) + 1;
  }
}
