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
  HOSTS_MAX,
  hostCounts,
  type MetricHost,
  type MetricSource,
  noteSource,
  type Pool,
  saveCounters,
  saveHosts,
  saveSeries,
} from "@/store";
import { METRIC_SOURCE, type Services } from "../admin";
import { byOurClock, clockSkew } from "./from-outside";
import { machineNames } from "./machine-names";
import { takeSamples } from "./take-samples";

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
  const points: Point[] = [];
  for (const point of incoming.points) {
    const match = matches[point.host];
    if (!match) refuse(`no attribute ${source.naming.attribute}`);
    else if (match.id === null) refuse(`host ${match.why}`);
    else
      points.push(
        skew === 0
          ? point
          : {
              ...point,
              at: byOurClock(point.at, now, skew),
              from: point.from === null ? null : byOurClock(point.from, now, skew),
            },
      );
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
  if (untimely > 0) refusals.set("older than two days, or ahead of now", untimely);
  await saveCounters(pool, source.id, counters);
  const isFull = await writeDown(pool, source, { hosts: incoming.hosts, matches, samples, now });
  const refused = incoming.refused + [...refusals.values()].reduce((sum, n) => sum + n, 0);
  const words = [...refusals].map(([why, n]) => (n > 0 ? `${n} x ${why}` : why));
  if (isFull) words.push(`more than ${HOSTS_MAX} hosts: no more are listed`);
  const why = words.length === 0 ? null : words.join("; ");
  const sampleAt = samples.reduce((latest, { at }) => Math.max(latest, Math.min(at, now)), 0);
  await noteSource(pool, { id: source.id, taken, refused, sampleAt: sampleAt || null, error: why, at: now });
  return { taken, refused, why };
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

/** True where there are too many hosts to write down. */
async function writeDown(pool: Pool, source: MetricSource, { hosts, matches, samples, now }: Seen): Promise<boolean> {
  const told = toldOf(pool, source.id);
  const isDue = (at: Instant | undefined) => at === undefined || now - at >= AGAIN_S || at > now;
  const news = new Map<string, MetricHost>();
  hosts.forEach(({ identity, attributes }, i) => {
    const match = matches[i];
    if (identity === null || !match) return;
    const known = told.hosts.get(identity);
    if (known && known.id === match.id && !isDue(known.at)) return;
    news.set(identity, { identity, attributes, resourceId: match.id, why: match.why, nearly: match.nearly, lastAt: now });
  });
  let isFull = false;
  if (news.size > 0) {
    const counts = (await hostCounts(pool)).get(source.id);
    isFull = (counts?.matched ?? 0) + (counts?.unmatched ?? 0) + news.size > HOSTS_MAX;
    const kept = [...news.values()].filter(({ resourceId }) => !isFull || resourceId !== null);
    await saveHosts(pool, source.id, kept);
    for (const { identity, resourceId } of kept) told.hosts.set(identity, { id: resourceId, at: now });
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
}
