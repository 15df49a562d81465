import { HEALTH_METRIC, ILL_S, illSince } from "@/core/mix";
import type { Resource } from "@/core/plan";
import { type Instant, MINUTE_S } from "@/core/time";
import { type MemberNews, type MixMember, type Pool, recentSamples } from "@/store";

/** Steps of samples may be as long as this. */
const STEP_MAX_S = 5 * MINUTE_S;

type Known = Readonly<{ news: ReadonlyMap<string, MemberNews>; byId: ReadonlyMap<string, Resource>; now: Instant }>;

/** Since when each member has been called unhealthy, by its provider or by the metric `health`; those that nobody calls so are left out. */
export async function membersIll(
  pool: Pool,
  members: readonly MixMember[],
  { news, byId, now }: Known,
): Promise<ReadonlyMap<string, Instant>> {
  const running = members.filter(({ resourceId }) => byId.get(resourceId)?.state === "running");
  if (running.length === 0) return new Map();
  const samples = await recentSamples(pool, {
    ids: running.map(({ resourceId }) => resourceId),
    metrics: [HEALTH_METRIC],
    from: now - ILL_S - 3 * STEP_MAX_S,
    to: now,
  });
  return new Map(
    running.flatMap(({ resourceId }) => {
      const since = byId.get(resourceId)?.since ?? now;
      const byProvider = news.get(resourceId)?.unhealthyAt ?? null;
      const byMetric = illSince(samples.get(resourceId) ?? [], now);
      // Before it ran as it runs now it was another matter.
      const told = [byProvider !== null && byProvider >= since ? byProvider : null, byMetric && Math.max(byMetric, since)];
      const known = told.filter((at): at is Instant => at !== null);
      return known.length === 0 ? [] : [[resourceId, Math.min(...known)] as const];
    }),
  );
}
