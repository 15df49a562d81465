import { type CameLate, LATENESS_MAX_MINUTES, minutesLate, usualLateness } from "@/core/samples";
import { DAY_S, type Instant, MINUTE_S } from "@/core/time";
import { cache, type Lateness, latenessSince, noteLateness, type Pool } from "@/store";

/** What came since it was last written down, by account and source, then metric: how many by the minutes they were late. And when that was. */
type Counted = { of: Map<string, Counts>; writtenAt: Instant | null };
type Counts = Readonly<{ account: string; sourceId: number | null; byMetric: Map<string, Uint32Array> }>;

/** Notes how late samples came (`at` is the end of their slot); many at once are added up and written down each minute. */
export async function noteLate(
  pool: Pool,
  samples: readonly Readonly<{ resourceId: string; metric: string; at: Instant }>[],
  { sourceId, now }: Readonly<{ sourceId: number | null; now: Instant }>,
): Promise<void> {
  if (samples.length === 0) return;
  const counted = countedOf(pool);
  const byResource = new Map<string, Counts>();
  for (const { resourceId, metric, at } of samples) {
    let counts = byResource.get(resourceId);
    if (!counts) {
      counts = countsOf(counted, resourceId.slice(0, resourceId.indexOf(":")), sourceId);
      byResource.set(resourceId, counts);
    }
    let late = counts.byMetric.get(metric);
    if (!late) {
      late = new Uint32Array(LATENESS_MAX_MINUTES + 1);
      counts.byMetric.set(metric, late);
    }
    const minutes = minutesLate(at, now);
    late[minutes] = (late[minutes] as number) + 1;
  }
  const isDue = counted.writtenAt === null || now < counted.writtenAt || now - counted.writtenAt >= MINUTE_S;
  if (!isDue) return;
  const lines = linesOf(counted);
  counted.of.clear();
  counted.writtenAt = now;
  await noteLateness(pool, lines, now);
}

function countsOf({ of }: Counted, account: string, sourceId: number | null): Counts {
  const key = `${account}\n${sourceId}`;
  const known = of.get(key) ?? { account, sourceId, byMetric: new Map<string, Uint32Array>() };
  of.set(key, known);
  return known;
}

function linesOf({ of }: Counted): Lateness[] {
  return [...of.values()].flatMap(({ account, sourceId, byMetric }) =>
    [...byMetric].flatMap(([metric, late]) =>
      [...late].flatMap((samples, minutes) => (samples === 0 ? [] : [{ account, sourceId, metric, minutes, samples }])),
    ),
  );
}

function countedOf(pool: Pool): Counted {
  const kept = cache<Pool, Counted>("lateness");
  const own = kept.get(pool) ?? { of: new Map(), writtenAt: null };
  kept.set(pool, own);
  return own;
}

/** How late samples usually come, in seconds: of a metric of an account, and of one of our sources. Null where nothing came for a day. */
export type UsualLateness = Readonly<{
  of: (account: string, metric: string) => number | null;
  ofSource: (id: number) => number | null;
}>;

/** What came how late over the last day, of some metrics or (null) of all. Of several sources of one metric of an account the latest counts. */
export async function usualLatenessNow(pool: Pool, now: Instant, metrics: readonly string[] | null): Promise<UsualLateness> {
  const perSeries = new Map<string, CameLate[]>();
  const perSource = new Map<number, CameLate[]>();
  for (const { account, sourceId, metric, ...came } of await latenessSince(pool, now - DAY_S, metrics)) {
    addTo(perSeries, `${account}\n${metric}\n${sourceId}`, came);
    if (sourceId !== null) addTo(perSource, sourceId, came);
  }
  const latest = new Map<string, number>();
  for (const [key, came] of perSeries) {
    const of = key.slice(0, key.lastIndexOf("\n"));
    latest.set(of, Math.max(latest.get(of) ?? 0, usualLateness(came) ?? 0));
  }
  return {
    of: (account, metric) => latest.get(`${account}\n${metric}`) ?? null,
    ofSource: (id) => usualLateness(perSource.get(id) ?? []),
  };
}

function addTo<K>(map: Map<K, CameLate[]>, key: K, came: CameLate): void {
  const all = map.get(key);
  if (all) all.push(came);
  else map.set(key, [came]);
}
