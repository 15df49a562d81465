import { type CameLate, minutesLate, usualLateness } from "@/core/samples";
import { DAY_S, type Instant, MINUTE_S } from "@/core/time";
import { cache, type Lateness, latenessSince, noteLateness, type Pool } from "@/store";

/** What came since it was last written down, and when that was. */
type Counted = { lines: Map<string, Lateness>; writtenAt: Instant | null };

/** Notes how late samples came (`at` is the end of their slot); many at once are added up and written down each minute. */
export async function noteLate(
  pool: Pool,
  samples: readonly Readonly<{ resourceId: string; metric: string; at: Instant }>[],
  { sourceId, now }: Readonly<{ sourceId: number | null; now: Instant }>,
): Promise<void> {
  if (samples.length === 0) return;
  const counted = countedOf(pool);
  const accounts = new Map<string, string>();
  for (const { resourceId, metric, at } of samples) {
    let account = accounts.get(resourceId);
    if (account === undefined) {
      account = resourceId.slice(0, resourceId.indexOf(":"));
      accounts.set(resourceId, account);
    }
    const minutes = minutesLate(at, now);
    const key = `${account}\n${sourceId}\n${metric}\n${minutes}`;
    const line = counted.lines.get(key);
    counted.lines.set(key, { account, sourceId, metric, minutes, samples: (line?.samples ?? 0) + 1 });
  }
  const isDue = counted.writtenAt === null || now < counted.writtenAt || now - counted.writtenAt >= MINUTE_S;
  if (!isDue) return;
  const lines = [...counted.lines.values()];
  counted.lines.clear();
  counted.writtenAt = now;
  await noteLateness(pool, lines, now);
}

function countedOf(pool: Pool): Counted {
  const kept = cache<Pool, Counted>("lateness");
  const own = kept.get(pool) ?? { lines: new Map(), writtenAt: null };
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
