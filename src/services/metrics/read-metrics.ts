import { DAY_S, formatDate, type Instant } from "@/core/time";
import { accountList, foldRecent, metricDaysStored, saveMetricDays, seriesTold, signal } from "@/store";
import { type Actor, authorise, ESTATE, type Services } from "../admin";
import { PROVIDER_METRICS } from "./known";

const KEPT_DAYS = 28;
/** A day is asked for once this has passed since its end: some of it comes late. */
const LATE_S = 1_800;

/** Fetches the whole days of metrics that are not stored yet, account by account. Safe to repeat; ends after the day at hand when told to stop. */
export async function readMetrics(services: Services, actor: Actor, stopping?: AbortSignal): Promise<{ days: number }> {
  authorise(actor, "work", ESTATE);
  const { now } = await services.clock.read();
  let days = 0;
  for (const account of await accountList(services.pool)) {
    const told = await seriesTold(services.pool, { account: account.name, since: now - KEPT_DAYS * DAY_S });
    const stored = new Set(await metricDaysStored(services.pool, account.name));
    const { metrics: part } = services.provider(account);
    if (!part) continue;
    for (const day of wholeDays(now)) {
      const name = formatDate(day / DAY_S);
      if (stopping?.aborted) return { days };
      if (stored.has(name)) continue;
      const read = await Promise.all(
        PROVIDER_METRICS.map(async (metric) => ({ metric, ...(await part.metricDay(metric, day)) })),
      );
      await saveMetricDays(
        services.pool,
        read.flatMap(({ metric, stepS, series }) =>
          series.flatMap(({ resourceId, samples }) =>
            (told.get(`${resourceId} ${metric}`) ?? Number.POSITIVE_INFINITY) < day + DAY_S
              ? []
              : [{ resourceId, metric, day: name, stepS, samples }],
          ),
        ),
      );
      days++;
    }
  }
  // Whoever gives no days has given samples: they become days once both ends of one are over.
  await foldRecent(services.pool, Math.floor(now / DAY_S) * DAY_S - DAY_S);
  if (days > 0) await signal(services.pool, "metrics");
  return { days };
}

/** The UTC days that are over, newest first: the latest is wanted soonest. */
function wholeDays(now: Instant): Instant[] {
  const today = Math.floor((now - LATE_S) / DAY_S) * DAY_S;
  return Array.from({ length: KEPT_DAYS }, (_, i) => today - (i + 1) * DAY_S);
}
