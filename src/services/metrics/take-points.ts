import { createHash } from "node:crypto";
import {
  type Attributes,
  type HostSample,
  type Matched,
  matchIdentity,
  type Point,
  reducePoints,
  seriesName,
} from "@/core/samples";
import type { Instant } from "@/core/time";
import {
  cache,
  counterList,
  dropStrangers,
  HOSTS_MAX,
  hostCounts,
  type MetricHost,
  type MetricSource,
  noteSource,
  type Pool,
  STRANGERS_MAX,
  saveCounters,
  saveHosts,
  saveSeries,
} from "@/store";
import { METRIC_SOURCE, type Services } from "../admin";
import { boundedNames, forgetNames } from "./bounded-names";
import { byOurClock, clockSkew } from "./from-outside";
import { machineNames } from "./machine-names";
import { isTimely, takeSamples } from "./take-samples";

/** Points of a source, with its hosts: what each is named by, null where it names itself by nothing. */
export type Incoming = Readonly<{
  hosts: readonly Readonly<{ identity: string | null; attributes: Attributes }>[];
  points: readonly Point[];
  /** Refused before, and why. */
  refused: number;
  why: string | null;
}>;

export type TakenPoints = Readonly<{ taken: number; refused: number; why: string | null }>;

/**
 * Takes in what a source tells: finds the machines it names, makes samples of the points and hands them to the one door. What
 * names no machine is written down and refused; all else is taken.
 */
export async function takePoints(
  services: Services,
  source: MetricSource,
  { now, ...incoming }: Incoming & { now: Instant },
): Promise<TakenPoints> {
  const { pool } = services;
  const index = await machineNames(pool, source.naming);
  const matches = incoming.hosts.map(({ identity }): Matched | null =>
    identity === null ? null : matchIdentity(identity, index),
  );
  const skew = clockSkew(now);
  const refusals = new Map<string, number>(incoming.why === null ? [] : [[incoming.why, 0]]);
  const refuse = (why: string) => refusals.set(why, (refusals.get(why) ?? 0) + 1);
  const tooMany = await boundedNames(pool, source.id, matches);
  const points: Point[] = [];
  for (const told of incoming.points) {
    const match = matches[told.host];
    const point = skew === 0 ? told : movedBy(told, { now, skew });
    const why = !match
      ? `no attribute ${source.naming.attribute}`
      : match.id === null
        ? `host ${match.why}`
        : !isTimely(point.at, now)
          ? UNTIMELY
          : tooMany(point, match.id);
    if (why === null) points.push(point);
    else refuse(why);
  }
  const keys = new Map<Point, string>();
  for (const point of points) if (point.value.kind !== "gauge") keys.set(point, counterKey(point, incoming.hosts));
  const before = await counterList(pool, source.id, [...new Set(keys.values())]);
  const {
    samples,
    counters,
    refused: odd,
  } = reducePoints(points, {
    stepS: source.stepS,
    keyOf: (point) => keys.get(point) ?? "",
    before,
  });
  const { taken, refused: untimely } = await takeSamples(services, METRIC_SOURCE, {
    samples: samples.map(({ host, metric, at, value }) => ({
      resourceId: matches[host]?.id ?? "",
      metric,
      at,
      stepS: source.stepS,
      value,
    })),
    now,
    sourceId: source.id,
  });
  if (odd > 0) refusals.set("no finite number", odd);
  if (untimely > 0) refusals.set(UNTIMELY, (refusals.get(UNTIMELY) ?? 0) + untimely);
  await saveCounters(pool, source.id, counters);
  const isFull = await writeDown(pool, source, { hosts: incoming.hosts, matches, samples, now });
  const refused = incoming.refused + [...refusals.values()].reduce((sum, n) => sum + n, 0);
  const words = [...refusals].map(([why, n]) => (n > 0 ? `${n} x ${why}` : why));
  if (isFull) words.push(`more than ${STRANGERS_MAX} hosts name no machine: the newest are listed`);
  const why = words.length === 0 ? null : words.join("; ");
  const sampleAt = samples.reduce((latest, { at }) => Math.max(latest, Math.min(at, now)), 0);
  await noteSource(pool, { id: source.id, taken, refused, sampleAt: sampleAt || null, error: why, at: now });
  return { taken, refused, why };
}

const UNTIMELY = "older than two days, or ahead of now";

/** A point whose clock is another than ours, by ours. */
function movedBy(point: Point, { now, skew }: { now: Instant; skew: number }): Point {
  const { at, from } = point;
  return { ...point, at: byOurClock(at, now, skew), from: from === null ? null : byOurClock(from, now, skew) };
}

function counterKey({ host, metric, attributes }: Point, hosts: Incoming["hosts"]): string {
  return createHash("md5")
    .update(`${hosts[host]?.identity}\n${metric}\n${seriesName(attributes)}`)
    .digest("base64");
}

/** Hosts and series are written down anew after so long, or when they change. */
const AGAIN_S = 600;
/** Series by resource and metric. */
type Told = { hosts: Map<string, { id: string | null; at: Instant }>; series: Map<string, Map<string, Instant>> };

type Seen = Readonly<{
  hosts: Incoming["hosts"];
  matches: readonly (Matched | null)[];
  samples: readonly HostSample[];
  now: Instant;
}>;

/** True where more hosts name no machine than are written down. */
async function writeDown(pool: Pool, source: MetricSource, { hosts, matches, samples, now }: Seen): Promise<boolean> {
  const told = toldOf(pool, source.id);
  const isDue = (at: Instant | undefined) => at === undefined || now - at >= AGAIN_S || at > now;
  const news = new Map<string, MetricHost>();
  hosts.forEach(({ identity, attributes }, i) => {
    const match = matches[i];
    if (identity === null || !match) return;
    const known = told.hosts.get(identity);
    if (known && known.id === match.id && !isDue(known.at)) return;
    news.set(identity, { identity, attributes, resourceId: match.id, why: match.why, lastAt: now });
  });
  const strangers = [...news.values()].filter(({ resourceId }) => resourceId === null);
  // Of a flood the last few thousand: they would be forgotten in the same breath.
  const kept = [...news.values()].filter(({ resourceId }) => resourceId !== null);
  await saveHosts(pool, source.id, [...kept, ...strangers.slice(-STRANGERS_MAX)]);
  if (told.hosts.size + news.size > HOSTS_MAX) told.hosts.clear();
  for (const { identity, resourceId } of news.values()) told.hosts.set(identity, { id: resourceId, at: now });
  let isFull = strangers.length > STRANGERS_MAX;
  if (strangers.length > 0) {
    const unmatched = (await hostCounts(pool)).get(source.id)?.unmatched ?? 0;
    isFull ||= unmatched > STRANGERS_MAX;
    if (isFull) await dropStrangers(pool, source.id);
  }
  const due = dueSeries(told, { matches, samples }, isDue);
  await saveSeries(pool, source.id, due);
  for (const { resourceId, metric } of due) {
    const own = told.series.get(resourceId) ?? new Map<string, Instant>();
    told.series.set(resourceId, own.set(metric, now));
  }
  return isFull;
}

type Span = { resourceId: string; metric: string; firstAt: Instant; lastAt: Instant };

/** The series that `isDue`, each with the samples' first and last instant. */
function dueSeries(
  { series }: Told,
  { matches, samples }: Pick<Seen, "matches" | "samples">,
  isDue: (at: Instant | undefined) => boolean,
): Span[] {
  const spans = new Map<string, Map<string, Span>>();
  for (const { host, metric, at } of samples) {
    const resourceId = matches[host]?.id ?? "";
    if (!isDue(series.get(resourceId)?.get(metric))) continue;
    const own = spans.get(resourceId) ?? new Map<string, Span>();
    spans.set(resourceId, own);
    const span = own.get(metric);
    if (span) {
      span.firstAt = Math.min(span.firstAt, at);
      span.lastAt = Math.max(span.lastAt, at);
    } else own.set(metric, { resourceId, metric, firstAt: at, lastAt: at });
  }
  return [...spans.values()].flatMap((own) => [...own.values()]);
}

function toldOf(pool: Pool, id: number): Told {
  const kept = cache<Pool, Map<number, Told>>("sources told");
  const all = kept.get(pool) ?? new Map<number, Told>();
  kept.set(pool, all);
  const own = all.get(id) ?? { hosts: new Map(), series: new Map() };
  all.set(id, own);
  return own;
}

/** Forgets what was written down of a source: its rule has changed, or it is gone. */
export function forgetTold(pool: Pool, id: number): void {
  cache<Pool, Map<number, Told>>("sources told").get(pool)?.delete(id);
  forgetNames(pool, id);
}
