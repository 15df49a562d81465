import { cache } from "./caches";
import { integerField } from "./copy-binary";
import type { Pool } from "./pool";

/** The numbers of series of samples, as COPY takes them: by resource, then metric. */
export type SeriesNumbers = Readonly<{ of: (resourceId: string, metric: string) => Buffer }>;

type Known = { byResource: Map<string, Map<string, Buffer>>; count: number };
type Series = Readonly<{ resourceId: string; metric: string }>;

/** So many numbers are kept in memory before all are read anew. */
const KEPT_MAX = 300_000;

/** The numbers of the series of some samples; a series that has none yet gets one, for good. */
export async function seriesNumbers(pool: Pool, told: Iterable<Series>): Promise<SeriesNumbers> {
  const caches = cache<Pool, Known>("series numbers");
  const before = caches.get(pool);
  const known: Known = before && before.count < KEPT_MAX ? before : { byResource: new Map(), count: 0 };
  caches.set(pool, known);
  const missing = new Map<string, Set<string>>();
  for (const { resourceId, metric } of told) {
    if (known.byResource.get(resourceId)?.has(metric)) continue;
    const own = missing.get(resourceId) ?? new Set();
    missing.set(resourceId, own.add(metric));
  }
  if (missing.size > 0) await number(pool, known, missing);
  return {
    of: (resourceId, metric) => {
      const field = known.byResource.get(resourceId)?.get(metric);
      if (!field) throw new Error(`no number of ${resourceId} ${metric}`);
      return field;
    },
  };
}

async function number(pool: Pool, known: Known, missing: ReadonlyMap<string, ReadonlySet<string>>): Promise<void> {
  const lines = [...missing].flatMap(([resourceId, metrics]) => [...metrics].map((metric) => ({ resourceId, metric })));
  const asked = [lines.map(({ resourceId }) => resourceId), lines.map(({ metric }) => metric)];
  // In one order, so that two who number the same wait for each other and for nothing else.
  await pool.query(
    `insert into recent_series (resource_id, metric)
     select line.resource_id, line.metric
     from unnest($1::text[], $2::text[]) as line (resource_id, metric)
     where not exists (select from recent_series s where s.resource_id = line.resource_id and s.metric = line.metric)
     order by line.resource_id collate "C", line.metric collate "C"
     on conflict do nothing`,
    asked,
  );
  const { rows } = await pool.query<Series & { id: number }>(
    `select s.id, s.resource_id as "resourceId", s.metric
     from unnest($1::text[], $2::text[]) as line (resource_id, metric)
     join recent_series s on s.resource_id = line.resource_id and s.metric = line.metric`,
    asked,
  );
  for (const { id, resourceId, metric } of rows) {
    const own = known.byResource.get(resourceId) ?? new Map<string, Buffer>();
    known.byResource.set(resourceId, own.set(metric, integerField(id)));
  }
  known.count += rows.length;
}
