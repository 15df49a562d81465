import { matchIdentity, type Point, withoutDomain } from "@/core/samples";
import { DAY_S, formatDate, type Instant } from "@/core/time";
import { log } from "@/log";
import { NoAnswerError, type PromSeries, prometheusAt } from "@/provider";
import {
  addJob,
  type MetricDay,
  type MetricSource,
  maybeSource,
  noteHistory,
  noteSource,
  type PullQuery,
  saveMetricDays,
  saveSeries,
  signal,
  sourceList,
} from "@/store";
import { type Actor, authorise, ESTATE, RefusedError, type Services } from "../admin";
import { clockSkew } from "./from-outside";
import { machineNames } from "./machine-names";
import { nearNames } from "./near-hosts";
import { type Incoming, takePoints } from "./take-points";

/** How long one query is waited for; a round never waits longer for all. */
const PATIENCE_MS = 4_000;
/** A source that did not answer is asked again after so long. */
const AFTER_ERROR_S = 120;
/** How far back a source's past is asked for. */
const HISTORY_DAYS = 28;
const HISTORY_PATIENCE_MS = 30_000;

function prometheusOf({ allowsLocalSources }: Services, url: string, patienceMs: number) {
  return prometheusAt(url, { patienceMs, allowsHere: allowsLocalSources });
}

/** The machine that a series names by its label; the port of an `instance` is no part of it. */
export function labelOf({ labels }: Pick<PromSeries, "labels">, { label, domain }: Labelled): string | null {
  const text = labels[label] ?? "";
  const name = label === "instance" ? text.replace(/:\d+$/, "") : text;
  return name === "" ? null : withoutDomain(name, domain);
}

/** The label that names the machine, and the domain that is cut off it. */
type Labelled = Readonly<{ label: string; domain: string | null }>;

/** Asks every Prometheus that is due for what it knows now, each apart: one that hangs or errs keeps no other waiting. */
export async function pullLatest(services: Services, actor: Actor, now: Instant): Promise<void> {
  authorise(actor, "tell metrics", ESTATE);
  const sources = (await sourceList(services.pool)).filter((source) => source.kind === "pull" && isDue(source, now));
  if (sources.length === 0) return;
  await Promise.all(sources.map((source) => pullOne(services, source, now)));
  await signal(services.pool, "sources");
}

function isDue({ isPaused, cameAt, stepS, errorAt, isSilent }: MetricSource, now: Instant): boolean {
  if (isPaused || (cameAt !== null && cameAt <= now && now < cameAt + stepS)) return false;
  return !isSilent || errorAt === null || errorAt > now || now >= errorAt + AFTER_ERROR_S;
}

async function pullOne(services: Services, source: MetricSource, now: Instant): Promise<void> {
  const prometheus = prometheusOf(services, source.url ?? "", PATIENCE_MS);
  const errors: unknown[] = [];
  const answers = await Promise.all(
    source.queries.map(async (query) => {
      try {
        return { query, series: await prometheus.now(query.query) };
      } catch (error) {
        errors.push(error instanceof NoAnswerError ? error : new Error(`${query.metric}: ${messageOf(error)}`));
        return { query, series: [] };
      }
    }),
  );
  const skew = clockSkew(now);
  const words = [...new Set(errors.map(messageOf))].join("; ");
  try {
    if (answers.some(({ series }) => series.length > 0)) {
      const incoming = pointsOf(answers, { domain: source.naming.domain, ours: (at) => at + skew });
      await takePoints(services, source, { ...incoming, why: errors.length > 0 ? words : null, now });
    } else {
      const error = errors.length > 0 ? words : "its queries match no series";
      const isSilent = errors.length > 0 && errors.every((one) => one instanceof NoAnswerError);
      await noteSource(services.pool, { id: source.id, taken: 0, refused: 0, sampleAt: null, error, isSilent, at: now });
    }
  } catch (error) {
    log.warn({ source: source.name, why: messageOf(error) }, "what it answered could not be stored");
  }
}

function messageOf(error: unknown): string {
  return error instanceof Error ? error.message : String(error);
}

type Answer = Readonly<{ query: PullQuery; series: readonly PromSeries[] }>;

/** Series as points of gauges under our names; each host is named by the label of its query. */
function pointsOf(
  answers: readonly Answer[],
  { domain, ours }: Readonly<{ domain: string | null; ours: (at: number) => number }>,
): Incoming {
  const hosts: { identity: string | null; attributes: Readonly<Record<string, string>> }[] = [];
  const points: Point[] = [];
  for (const { query, series } of answers) {
    for (const one of series) {
      const host = hosts.push({ identity: labelOf(one, { label: query.label, domain }), attributes: one.labels }) - 1;
      // NaN is how a Prometheus says that there is no value.
      for (const [at, value] of one.samples)
        if (!Number.isNaN(value))
          points.push({ host, metric: query.metric, attributes: {}, from: null, at: ours(at), value: { kind: "gauge", value } });
    }
  }
  return { hosts, points, refused: 0, why: null };
}

/** What a query gives now: series with their machines, and without. */
export type Tried = Readonly<{
  series: number;
  matched: readonly Readonly<{ identity: string; name: string; value: number }>[];
  unmatched: readonly Readonly<{ identity: string | null; labels: string; why: string; nearly: string | null; value: number }>[];
}>;

const SHOWN = 50;

/** Tries a query: what it gives, which machines that names and which not. Nothing is kept. */
export async function tryPull(
  services: Services,
  actor: Actor,
  { url, query, naming }: Readonly<{ url: string; query: PullQuery; naming: MetricSource["naming"] }>,
): Promise<Tried> {
  authorise(actor, "set up", ESTATE);
  const series = await prometheusOf(services, url, PATIENCE_MS)
    .now(query.query)
    .catch((error: unknown) => {
      throw new RefusedError("invalid", messageOf(error), [
        { path: error instanceof NoAnswerError ? "url" : "query", message: messageOf(error) },
      ]);
    });
  const [index, nearOf] = await Promise.all([machineNames(services.pool, naming), nearNames(services.pool, naming)]);
  const matched: { identity: string; name: string; value: number }[] = [];
  const unmatched: Omit<Tried["unmatched"][number], "nearly">[] = [];
  for (const one of series) {
    const identity = labelOf(one, { label: query.label, domain: naming.domain });
    const value = one.samples.at(-1)?.[1] ?? Number.NaN;
    const labels = Object.entries(one.labels)
      .map(([name, text]) => `${name}=${text}`)
      .join(", ");
    const match = identity === null ? null : matchIdentity(identity, index);
    if (identity !== null && match?.id) matched.push({ identity, name: match.id, value });
    else unmatched.push({ identity, labels, why: match?.why ?? `no label ${query.label}`, value });
  }
  return {
    series: series.length,
    matched: matched.slice(0, SHOWN),
    unmatched: unmatched.slice(0, SHOWN).map((one) => ({ ...one, nearly: one.identity === null ? null : nearOf(one.identity) })),
  };
}

/** Asks for a source's past once, in the background. */
export async function askHistory(services: Services, actor: Actor, id: number): Promise<void> {
  authorise(actor, "set up", ESTATE);
  const source = await maybeSource(services.pool, id);
  if (source?.kind !== "pull") throw new RefusedError("not_found", `There is no Prometheus ${id}.`);
  const { history } = source;
  if (history && history.error === null && history.done < history.of)
    throw new RefusedError("busy", "Its past is being asked for already.");
  await noteHistory(services.pool, id, { done: 0, of: HISTORY_DAYS, error: null });
  await addJob(services.pool, "metric-history", { payload: { id }, key: `metric-history ${id}` });
  await signal(services.pool, "sources");
}

/** Reads a source's past day by day, newest first, from where it was left. Ends after the day at hand when told to stop. */
export async function readHistory(
  services: Services,
  actor: Actor,
  { id, stopping }: { id: number; stopping?: AbortSignal },
): Promise<{ isDone: boolean }> {
  authorise(actor, "work", ESTATE);
  const { pool } = services;
  const { now } = await services.clock.read();
  for (;;) {
    const source = await maybeSource(pool, id);
    const { history } = source ?? { history: null };
    if (!source || !history || history.done >= history.of) return { isDone: true };
    if (stopping?.aborted) return { isDone: false };
    const day = (Math.floor(now / DAY_S) - 1 - history.done) * DAY_S;
    try {
      await readDay(services, source, { day, now });
    } catch (error) {
      await noteHistory(pool, id, { ...history, error: messageOf(error) });
      await signal(pool, "sources");
      return { isDone: true };
    }
    await noteHistory(pool, id, { ...history, done: history.done + 1, error: null });
    await signal(pool, "sources");
    if (history.done + 1 === history.of) await signal(pool, "metrics");
  }
}

async function readDay(services: Services, source: MetricSource, { day, now }: { day: Instant; now: Instant }): Promise<void> {
  const { pool } = services;
  const { stepS, queries, naming } = source;
  const index = await machineNames(pool, naming);
  const skew = clockSkew(now);
  const prometheus = prometheusOf(services, source.url ?? "", HISTORY_PATIENCE_MS);
  const days = new Map<string, MetricDay & { samples: (number | null)[] }>();
  for (const query of queries) {
    const series = await prometheus.range(query.query, { from: day + stepS - skew, to: day + DAY_S - skew, stepS });
    for (const one of series) {
      const identity = labelOf(one, { label: query.label, domain: naming.domain });
      const resourceId = identity === null ? null : matchIdentity(identity, index).id;
      if (resourceId === null) continue;
      const key = `${resourceId} ${query.metric}`;
      const samples = days.get(key)?.samples ?? new Array<number | null>(DAY_S / stepS).fill(null);
      for (const [at, value] of one.samples) {
        const slot = Math.ceil((at + skew - day) / stepS) - 1;
        if (Number.isFinite(value) && slot >= 0 && slot < samples.length) samples[slot] = value;
      }
      days.set(key, { resourceId, metric: query.metric, day: formatDate(day / DAY_S), stepS, samples });
    }
  }
  const known = [...days.values()].filter(({ samples }) => samples.some((sample) => sample !== null));
  await saveMetricDays(pool, known);
  await saveSeries(
    pool,
    source.id,
    known.map(({ resourceId, metric }) => ({ resourceId, metric, firstAt: day, lastAt: day })),
  );
}
