import { type Family, openMetricsText, prometheusText } from "@/core/open-metrics";
import { failingRounds, type Gauges, lastFullRound, otherClocks, readGauges } from "@/store";
import { type Actor, authorise, ESTATE } from "./actor";
import type { Services } from "./context";

/** A round that is this much overdue by the real clock means that nobody runs them. */
const READY_WITHIN_S = 5 * 60;

/** What a monitor reads, as text in the format it asks for. */
export async function metricsText(
  services: Services,
  actor: Actor,
  format: "openmetrics" | "prometheus" = "openmetrics",
): Promise<string> {
  authorise(actor, "look", ESTATE);
  const [{ now }, gauges] = await Promise.all([services.clock.read(), readGauges(services.pool)]);
  const byStatus = (rows: Gauges["rounds"]) => rows.map(({ status, n }) => ({ labels: { status }, value: n }));
  const age = (at: number | null) => (at === null ? [] : [{ value: Math.max(0, now - at) }]);
  const families: Family[] = [
    { name: "umbrik_rounds", type: "counter", help: "Rounds, by how they ended", samples: byStatus(gauges.rounds) },
    {
      name: "umbrik_actions",
      type: "counter",
      help: "Actions, by how they stand",
      samples: byStatus(gauges.actions),
    },
    {
      name: "umbrik_round_age_seconds",
      type: "gauge",
      unit: "seconds",
      help: "Since the last round of everything",
      samples: age(gauges.lastRoundAt),
    },
    {
      name: "umbrik_round_duration_seconds",
      type: "gauge",
      unit: "seconds",
      help: "How long the last round took",
      samples: gauges.lastRoundTookMs === null ? [] : [{ value: gauges.lastRoundTookMs / 1000 }],
    },
    {
      name: "umbrik_action_lag_seconds",
      type: "gauge",
      unit: "seconds",
      help: "Since the oldest action was due that is still open",
      samples: age(gauges.oldestOpenAt),
    },
    { name: "umbrik_stops_held", type: "gauge", help: "Stops that wait for a person", samples: [{ value: gauges.held }] },
    {
      name: "umbrik_resources",
      type: "gauge",
      help: "Resources, by state",
      samples: gauges.resources.map(({ state, n }) => ({ labels: { state }, value: n })),
    },
    {
      name: "umbrik_account_read",
      type: "gauge",
      help: "1 where the account was read in full the last time",
      samples: gauges.accounts.map(({ name, isRead }) => ({ labels: { account: name }, value: isRead ? 1 : 0 })),
    },
    {
      name: "umbrik_account_doubted",
      type: "gauge",
      help: "1 where the listing of the account is not believed",
      samples: gauges.accounts.map(({ name, isDoubted }) => ({ labels: { account: name }, value: isDoubted ? 1 : 0 })),
    },
    {
      name: "umbrik_account_set_aside",
      type: "gauge",
      help: "What the listing of the account has that cannot be understood",
      samples: gauges.accounts.map(({ name, setAside }) => ({ labels: { account: name }, value: setAside })),
    },
    {
      name: "umbrik_queue_jobs",
      type: "gauge",
      help: "Jobs that wait or run, by task",
      samples: gauges.queue.map(({ task, n }) => ({ labels: { task }, value: n })),
    },
    {
      name: "umbrik_queue_failing_jobs",
      type: "gauge",
      help: "Of them, those that failed and are tried again",
      samples: gauges.queue.map(({ task, failing }) => ({ labels: { task }, value: failing })),
    },
    {
      name: "umbrik_database_connections",
      type: "gauge",
      help: "Connections to the database, of all processes",
      samples: [{ value: gauges.connections }],
    },
  ];
  return format === "openmetrics" ? openMetricsText(families) : prometheusText(families);
}

/** So many rounds that failed one after the other are no chance; with a full disk each of them does. */
export const FAILED_LEAST = 3;
/** Our clock may go ahead of the database's by so much. */
const CLOCK_AHEAD_S = 60;

/** Whether the whole does its work: the database answers, rounds come and end well, and the clock is right. */
export async function readiness(services: Services, actor: Actor): Promise<{ isReady: boolean; why: string }> {
  authorise(actor, "look", ESTATE);
  const { pool } = services;
  const [{ now, rate, isDemo }, last, failing, { database }] = await Promise.all([
    services.clock.read(),
    lastFullRound(pool),
    failingRounds(pool),
    otherClocks(pool),
  ]);
  if (failing && failing.count >= FAILED_LEAST)
    return { isReady: false, why: `the last ${failing.count} rounds failed, the latest with: ${failing.error}` };
  if (!isDemo && now - database > CLOCK_AHEAD_S)
    return { isReady: false, why: `our clock is ${Math.round(now - database)} s ahead of the database's` };
  if (!last) return { isReady: false, why: "no round has ended yet" };
  const age = now - last.at;
  if (rate > 0 && age > READY_WITHIN_S * rate)
    return { isReady: false, why: `the last round is ${age} s old: does a worker run?` };
  return { isReady: true, why: "the database answers, and rounds come" };
}
