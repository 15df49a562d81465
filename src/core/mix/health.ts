import { type Instant, MINUTE_S } from "../time";

/** The metric by which a machine may be called unhealthy: above 0 it is well. */
export const HEALTH_METRIC = "health";
/** So long a machine is unhealthy before anything is done about it. */
export const ILL_S = 10 * MINUTE_S;

/** So many unhealthy members of a group are replaced a day, then a person is told. */
export const REPLACED_A_DAY = 3;

/** What a plan has done with unhealthy members. */
export type UnhealthyCare = "replace" | "restart" | "tell";

/** Why an unhealthy member was not replaced, as a sentence: its plan says so, no provider can do what it says, or the day's are used up. */
export function whyNotReplaced(care: UnhealthyCare): string {
  switch (care) {
    case "tell":
      return "Its plan replaces none.";
    case "restart":
      return "Its plan restarts them, which no provider here can.";
    case "replace":
      return `At most ${REPLACED_A_DAY} are replaced within a day.`;
  }
}

/** Samples further apart than so many steps, or as old, say nothing of what lies between. */
const APART_STEPS = 2;

type HealthSample = Readonly<{ at: Instant; stepS: number; value: number }>;

/**
 * Since when a machine has told of nothing but being unhealthy, by its samples in order of time, each at the end of its slot;
 * null where the last says that it is well, is too old to say anything, or there is none.
 */
export function illSince(samples: readonly HealthSample[], now: Instant): Instant | null {
  let since: Instant | null = null;
  let next = now;
  for (let i = samples.length - 1; i >= 0; i--) {
    const { at, stepS, value } = samples[i] as HealthSample;
    if (value > 0 || next - at > APART_STEPS * stepS) break;
    since = at - stepS;
    next = at;
  }
  return since;
}
