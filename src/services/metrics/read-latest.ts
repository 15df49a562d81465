import { HOUR_S, type Instant } from "@/core/time";
import { log } from "@/log";
import { type Account, lastSamples, seriesTold } from "@/store";
import { type Services, WORKER } from "../admin";
import { PROVIDER_METRICS } from "./known";
import { takeSamples } from "./take-samples";

/** How far back the first reading of a metric goes: no window that is watched live is longer. */
export const BACK_S = 26 * HOUR_S;
const MOMENT_S = 900;
/** How many slots that are known already are asked for again: some come late. */
const AGAIN = 2;
/** A source that told nothing of a series for so long leaves it to the provider. */
const TOLD_S = HOUR_S;
/** How long a round waits for metrics; what comes later is read by a later one. */
const PATIENCE_MS = 6_000;

/**
 * Reads what is new of some metrics from some accounts, each apart. One that does not answer is passed over: its alarms
 * go blind, and nobody else's.
 */
export async function readLatest(
  services: Services,
  { accounts, metrics, now }: Readonly<{ accounts: readonly Account[]; metrics: readonly string[]; now: Instant }>,
): Promise<void> {
  const known = metrics.filter((metric) => (PROVIDER_METRICS as readonly string[]).includes(metric));
  await Promise.all(
    accounts.map(async (account) => {
      try {
        const { metrics: part } = services.provider(account, AbortSignal.timeout(PATIENCE_MS));
        if (!part) return;
        // Most of the time the last is of a moment ago; only what is not found there is looked for further back.
        const late = await lastSamples(services.pool, account.name, now - MOMENT_S);
        const last = known.every((metric) => late.has(metric))
          ? late
          : await lastSamples(services.pool, account.name, now - BACK_S);
        const read = await Promise.all(
          known.map(async (metric) => {
            const before = last.get(metric);
            if (before && now < before.at + before.stepS) return [];
            const after = before ? before.at - AGAIN * before.stepS : now - BACK_S;
            const first = await part.metricAfter(metric, after);
            // A day at a time; the rest of the first reading follows at once.
            return before ? first : [...first, ...(await part.metricAfter(metric, after + 24 * HOUR_S))];
          }),
        );
        // What a source of our own tells, the provider is not believed on: two of them would take turns.
        const told = await seriesTold(services.pool, { account: account.name, since: now - TOLD_S });
        const own = read.flat().filter(({ resourceId, metric }) => !told.has(`${resourceId} ${metric}`));
        await takeSamples(services, WORKER, { samples: own, now });
      } catch (error) {
        log.warn(
          { account: account.name, why: error instanceof Error ? error.message : String(error) },
          "its metrics were not read",
        );
      }
    }),
  );
}
