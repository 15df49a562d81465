import { type Samples, slotEnd } from "@/core/idle";
import type { Resource } from "@/core/plan";
import { matcher, tryParseSelector } from "@/core/selector";
import { DAY_S, formatDate, type Instant } from "@/core/time";
import { metricDaysRaw, metricsKnown, metricsToldOf, readSamples, recentSamples } from "@/store";
import { type Actor, authorise, ESTATE, RefusedError, type Services } from "../admin";
import { loadSnapshot } from "../inventory";
import { usualLatenessNow } from "../metrics";
import { ownersMail } from "./owners";
import { tripsOf } from "./trips";

/** The weeks that a rule is tried on. */
export const TRIED_DAYS = 28;
const BYTES_MAX = 96_000_000;
const STEP_S = 300;

export type SamplesQuery = Readonly<{ selector: string; metrics: readonly string[] }>;

/** The samples of some metrics of what a selector matches, over the last 28 days and today. Throws a RefusedError where that is too much at once. */
export async function fleetSamples(services: Services, actor: Actor, { selector, metrics }: SamplesQuery): Promise<Samples> {
  authorise(actor, "look", ESTATE);
  const parsed = tryParseSelector(selector);
  if (!parsed.ok) throw new RefusedError("invalid", parsed.error.message);
  const [{ now }, snapshot] = await Promise.all([services.clock.read(), loadSnapshot(services)]);
  return samplesOver(services, snapshot.schedulable.filter(matcher(parsed.selector)), { metrics, now, days: TRIED_DAYS });
}

/** So many metrics of its own does a machine's page show besides those of the providers. */
const OWN_MAX = 8;

/** The samples of one machine, the same way, with what sources tell of it. Throws a RefusedError where there is none of that id. */
export async function machineSamples(
  services: Services,
  actor: Actor,
  { id, metrics }: Readonly<{ id: string; metrics: readonly string[] }>,
): Promise<Samples> {
  authorise(actor, "look", ESTATE);
  const [{ now }, snapshot, told] = await Promise.all([
    services.clock.read(),
    loadSnapshot(services),
    metricsToldOf(services.pool, id, OWN_MAX + metrics.length),
  ]);
  const resource = snapshot.schedulable.find((one) => one.id === id);
  if (!resource) throw new RefusedError("not_found", `There is no machine ${id}.`);
  const own = told.filter((metric) => !metrics.includes(metric)).slice(0, OWN_MAX);
  return samplesOver(services, [resource], { metrics: [...metrics, ...own], now, days: TRIED_DAYS });
}

type Asked = Readonly<{ metrics: readonly string[]; now: Instant; days: number }>;

/** Samples over whole UTC days before today, and today so far. */
export async function samplesOver(
  { pool }: Services,
  resources: readonly Resource[],
  { metrics, now, days }: Asked,
): Promise<Samples> {
  const today = Math.floor(now / DAY_S) * DAY_S;
  const from = today - days * DAY_S;
  const ids = resources.map(({ id }) => id);
  const recent = await recentSamples(pool, { ids, metrics, from: today - DAY_S, to: now });
  const steps = [...recent.values()].flatMap((list) => list.slice(0, 1).map((one) => one.stepS));
  // Several sources may have several steps: what comes more often is read at the longest.
  const stepS = steps.reduce((longest, step) => Math.max(longest, step), 0) || STEP_S;
  const count = Math.floor((now - from) / stepS);
  const bytes = resources.length * metrics.length * count * 4;
  if (bytes > BYTES_MAX)
    throw new RefusedError(
      "invalid",
      `${resources.length} machines with ${metrics.length} metrics are more than can be tried at once: narrow the selector while you try the rule`,
    );
  const values = new Float32Array(resources.length * metrics.length * count).fill(Number.NaN);
  const place = new Map(ids.map((id, i) => [id, i]));
  const columnOf = (metric: string, id: string): Float32Array => {
    const at = (metrics.indexOf(metric) * resources.length + (place.get(id) ?? 0)) * count;
    return values.subarray(at, at + count);
  };
  const stored = await Promise.all(
    metrics.map(async (metric) => ({
      metric,
      rows: await metricDaysRaw(pool, { ids, metric, from: formatDate(from / DAY_S), to: formatDate(today / DAY_S) }),
    })),
  );
  for (const { metric, rows } of stored) {
    for (const { resourceId, day, stepS: ownStep, samples } of rows) {
      // What came less often than this has no slots of its own here.
      if (stepS % ownStep !== 0) continue;
      const first = Math.round((Date.parse(`${day}T00:00:00Z`) / 1000 - from) / stepS);
      if (ownStep === stepS) readSamples(samples, columnOf(metric, resourceId), first);
      else readCoarser(samples, { into: columnOf(metric, resourceId), first, of: stepS / ownStep });
    }
  }
  for (const [id, list] of recent)
    for (const { metric, at, value } of list) {
      const slot = (slotEnd(at, stepS) - from) / stepS - 1;
      const column = columnOf(metric, id);
      if (slot >= 0 && slot < count) column[slot] = value;
    }
  const [{ tag }, lateness, trips] = await Promise.all([
    ownersMail(pool),
    usualLatenessNow(pool, now, metrics),
    tripsOf(pool, { ids, from, to: now }),
  ]);
  const accounts = new Set(resources.map(({ fields }) => fields.account ?? ""));
  let first = count;
  for (let column = 0; column < values.length; column += count) {
    let slot = 0;
    while (slot < first && Number.isNaN(values[column + slot] as number)) slot++;
    first = slot;
  }
  return {
    head: {
      stepS,
      firstEnd: from + stepS,
      count,
      knownFrom: from + first * stepS,
      metrics,
      latenessS: metrics.map((metric) => {
        const known = [...accounts].flatMap((account) => lateness.of(account, metric) ?? []);
        return known.length === 0 ? null : Math.max(...known);
      }),
      resources: resources.map(({ id, name, tags }) => ({ id, name, owner: tags[tag] ?? null, trips: trips.get(id) ?? [] })),
    },
    values,
  };
}

/** Reads a day whose samples come several to a slot: the latest of each counts. */
function readCoarser(samples: Buffer, { into, first, of }: { into: Float32Array; first: number; of: number }): void {
  // No step is shorter than a second.
  const fine = new Float32Array(DAY_S).fill(Number.NaN);
  readSamples(samples, fine, 0);
  for (let i = 0; i < fine.length; i++) {
    const slot = first + Math.floor(i / of);
    if (slot >= 0 && slot < into.length && !Number.isNaN(fine[i] as number)) into[slot] = fine[i] as number;
  }
}

/** So many names of metrics are listed; others are found by a part of theirs. */
const NAMES_MAX = 200;

/** Metrics that something is known of, by name: those with a text in theirs, and how many there are of them. */
export async function knownMetrics(
  { pool }: Services,
  actor: Actor,
  like = "",
): Promise<Readonly<{ names: readonly string[]; of: number }>> {
  authorise(actor, "look", ESTATE);
  return metricsKnown(pool, { like: like.trim().slice(0, 200), limit: NAMES_MAX });
}
