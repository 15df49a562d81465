import { WAIT_MAX_S } from "@/core/idle";
import { ROUND_EVERY_S } from "@/core/rounds";
import { HOUR_S, type Instant } from "@/core/time";
import { log } from "@/log";
import type { LatestSample, ProviderParts } from "@/provider";
import { type Account, cache, type Pool, recentSamples, type SeriesState, seriesStates, seriesTold } from "@/store";
import { type Services, WORKER } from "../admin";
import { PROVIDER_METRICS } from "./known";
import { takeSamples } from "./take-samples";

/** How far back the first reading of a metric goes: no window that is watched live is longer. */
export const BACK_S = 26 * HOUR_S;
const MOMENT_S = WAIT_MAX_S + 900;
/** How many slots that are known already are asked for again: some come late. */
const AGAIN = 2;
/** Of what runs and is behind, all that a slot may be waited for is asked again; of more series than this, once a step. */
const MANY = 5_000;
/** So often it is asked again in any case: of a machine that is late with all it tells, nothing shows it. */
const DEEP_EVERY_S = 900;
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
        if (part) await readAccount(services, { account: account.name, metrics: known, part, now });
      } catch (error) {
        log.warn(
          { account: account.name, why: error instanceof Error ? error.message : String(error) },
          "its metrics were not read",
        );
      }
    }),
  );
}

type Reading = Readonly<{
  account: string;
  metrics: readonly string[];
  part: NonNullable<ProviderParts["metrics"]>;
  now: Instant;
}>;

async function readAccount(services: Services, { account, metrics, part, now }: Reading): Promise<void> {
  const { pool } = services;
  // Most of the time the last is of a moment ago; only what is not found there is looked for further back.
  const late = await seriesStates(pool, { account, metrics, since: now - MOMENT_S });
  const states = metrics.every((metric) => late.has(metric))
    ? late
    : await seriesStates(pool, { account, metrics, since: now - BACK_S });
  const asked = askedOf(pool, account);
  const wasAsked = asked.at;
  const read = await Promise.all(
    metrics.map(async (metric) => {
      const state = states.get(metric);
      const after = askAfter(state, { asked: asked.deep.get(metric) ?? null, now });
      if (after === null) return [];
      if (state && after < state.at - AGAIN * state.stepS) asked.deep.set(metric, now);
      const first = await part.metricAfter(metric, after);
      // A day at a time; the rest of the first reading follows at once.
      return state ? first : [...first, ...(await part.metricAfter(metric, after + 24 * HOUR_S))];
    }),
  );
  asked.at = now;
  // What a source of our own tells, the provider is not believed on: two of them would take turns.
  const told = await seriesTold(pool, { account, since: now - TOLD_S });
  const own = read.flat().filter(({ resourceId, metric }) => !told.has(`${resourceId} ${metric}`));
  const news = await notKnown(pool, own, { metrics, now });
  // What was to be had while nobody asked says nothing of how late it came.
  const isCatchingUp = wasAsked === null || wasAsked > now || now - wasAsked > 2 * ROUND_EVERY_S;
  await takeSamples(services, WORKER, { samples: news, now, isCatchingUp });
}

/** Since when a metric is asked for; null where nothing new can be there. */
function askAfter(state: SeriesState | undefined, { asked, now }: { asked: Instant | null; now: Instant }): Instant | null {
  if (!state) return now - BACK_S;
  const { at, stepS, series, isBehind } = state;
  const deep = now - WAIT_MAX_S - stepS;
  const since = asked === null || asked > now ? Number.POSITIVE_INFINITY : now - asked;
  if (since >= DEEP_EVERY_S || (isBehind && since >= (series > MANY ? stepS : 0))) return Math.min(deep, at);
  return now < at + stepS ? null : at - AGAIN * stepS;
}

/** Samples of which nothing, or something else, is stored: what is told again is not written again. */
async function notKnown(
  pool: Pool,
  samples: readonly LatestSample[],
  { metrics, now }: { metrics: readonly string[]; now: Instant },
): Promise<LatestSample[]> {
  if (samples.length === 0) return [];
  const first = samples.reduce((least, { at }) => Math.min(least, at), Number.POSITIVE_INFINITY);
  const ids = [...new Set(samples.map(({ resourceId }) => resourceId))];
  const stored = await recentSamples(pool, { ids, metrics, from: first - 1, to: now + HOUR_S });
  const values = new Map<string, Map<string, number>>();
  for (const [id, own] of stored) values.set(id, new Map(own.map(({ metric, at, value }) => [`${metric} ${at}`, value])));
  return samples.filter(({ resourceId, metric, at, value }) => values.get(resourceId)?.get(`${metric} ${at}`) !== value);
}

/** When an account was last asked, and of which metrics far back. */
type Asked = { at: Instant | null; deep: Map<string, Instant> };

function askedOf(pool: Pool, account: string): Asked {
  const kept = cache<Pool, Map<string, Asked>>("accounts asked");
  const all = kept.get(pool) ?? new Map<string, Asked>();
  kept.set(pool, all);
  const own = all.get(account) ?? { at: null, deep: new Map() };
  all.set(account, own);
  return own;
}
