import { type Decision, STOOD_S } from "@/core/rounds";
import { type Instant, MINUTE_S } from "@/core/time";
import type { Services } from "../admin";
import type { Snapshot } from "../inventory";
import { firstRoundOf } from "../rounds";

/** Those of the machines that the first round stops, or one within the hour: a plan so young is not known long enough to be foreseen. */
export async function soonOff(
  services: Services,
  { after, now, own }: { after: Snapshot; now: Instant; own: readonly Decision[] },
): Promise<string[]> {
  const ids = new Set(own.filter(({ action, due }) => action?.level === 0 || due === 0).map(({ resourceId }) => resourceId));
  const touched = new Set(own.map(({ resourceId }) => resourceId));
  for (let t = now + 5 * MINUTE_S; t <= now + STOOD_S; t += 5 * MINUTE_S) {
    for (const { resourceId, due } of await firstRoundOf(services, after, t)) {
      if (due === 0 && touched.has(resourceId)) ids.add(resourceId);
    }
  }
  return [...ids];
}
