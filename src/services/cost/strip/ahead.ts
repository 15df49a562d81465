import type { Amount } from "@/core/pricing";
import type { Override } from "@/core/rounds";
import { HOUR_S, type Instant } from "@/core/time";
import type { Prices } from "@/store";
import type { Snapshot } from "../../inventory";
import { stepsAhead } from "../ahead";

/** What each hour of `[from, to)` comes to if plans are kept and all else stays as it is, from now on. */
export function hoursToCome(
  snapshot: Snapshot,
  prices: Prices,
  {
    holds,
    window: { now, from, to },
  }: { holds: readonly Override[]; window: Readonly<{ now: Instant; from: Instant; to: Instant }> },
): Map<Instant, Amount> {
  return stepsAhead({ snapshot, prices, holds, now, window: { from: Math.max(now, from), to } }, HOUR_S);
}
