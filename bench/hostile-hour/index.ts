import { readFileSync } from "node:fs";
import { setTimeout as pause } from "node:timers/promises";
import { runMigrations } from "graphile-worker";
import { connectAccounts, DEMO_ACTOR, migrateDatabase, openServices, type Services, WORKER } from "@/services/admin";
import { makeSource } from "@/services/metrics";
import { makeWebhook } from "@/services/notify";
import { loadPlan } from "@/services/plans";
import { runRound } from "@/services/rounds";
import { freePort } from "../../bin/lib/ports.mjs";
import { startNode, typescript } from "../../bin/lib/processes.mjs";
import { freshDatabase } from "../../tests/support/world";
import { CROWD_START, crowdAccounts } from "../crowd-accounts";
import { report } from "../measure";
import { drippingReceiver, flood, strangersPrometheus, study } from "./outside";
import { people } from "./people";

const MACHINES = 10_000;
/** Of them, those that have edges (`bench/crowd.ts`). */
const LATE = MACHINES / 50;
const HOUR_S = 3_600;
const EDGE_S = 600;
/** The hour takes ten minutes. */
const RATE = 6;
const BESIDE = "six times as fast as by the wall clock";

/** On for ten minutes, off for ten minutes; the others are always on. */
const PLAN = `
umbrik: 1
schedules:
  - { name: always, zone: UTC, rows: [{ day: daily, spans: ["00:00-24:00"] }] }
  - name: turns
    zone: UTC
    rows: [{ day: daily, spans: [${Array.from({ length: 24 }, (_, h) => {
      const hour = String(h).padStart(2, "0");
      const next = h === 23 ? "24:00" : `${String(h + 1).padStart(2, "0")}:00`;
      return `"${hour}:10-${hour}:20", "${hour}:30-${hour}:40", "${hour}:50-${next}"`;
    }).join(", ")}] }]
fleets:
  - { name: late-shift, select: "shift = late", hours: turns, enforce: always }
  - { name: crowd, select: "team = crowd", hours: always, enforce: always }
`;

type Process = ReturnType<typeof startNode>;

/** The most memory that a process ever had, in MB; 0 for one that is gone. */
function peakMb({ child }: Process): number {
  try {
    return Number(/VmHWM:\s+(\d+) kB/.exec(readFileSync(`/proc/${child.pid}/status`, "utf8"))?.[1] ?? 0) / 1_000;
  } catch {
    return 0;
  }
}

/**
 * An hour over ten thousand machines with an edge every ten minutes, in which sources of strangers, floods of names, hosts and
 * points, a receiver that drips and studies as large as they may be come all at once, ten people look, and a worker is killed.
 */
export async function benchHostileHour(): Promise<void> {
  const database = await freshDatabase();
  const stops: (() => unknown)[] = [() => database.drop()];
  try {
    const standin = startNode(typescript("bench/crowd.ts", [String(MACHINES)]));
    stops.push(() => standin.stop());
    const { port: standinPort } = JSON.parse(await standin.firstLine) as { port: number };
    const standinUrl = `http://127.0.0.1:${standinPort}`;
    const webPort = await freePort();
    const url = `http://127.0.0.1:${webPort}`;
    const env = {
      DATABASE_URL: database.url,
      UMBRIK_URL: url,
      UMBRIK_CLOCK_URL: `${standinUrl}/clock`,
      UMBRIK_LOCAL_SOURCES: "allow",
      UMBRIK_LOCAL_WEBHOOKS: "allow",
      UMBRIK_LOG: "silent",
    };
    const services = openServices(env);
    stops.push(() => services.pool.end());
    await prepare(services, standinUrl);
    const now = async () => (await services.clock.read()).now;

    const receiver = await drippingReceiver();
    const prometheus = await strangersPrometheus(() => Date.now() / 1_000);
    stops.push(receiver.close, prometheus.close);
    await makeWebhook(services, DEMO_ACTOR, receiver.url);
    const naming = { attribute: "host.name", names: "name", tag: null, account: null, domain: null } as const;
    const queries = [{ metric: "cpu", query: "cpu", label: "instance" }];
    await makeSource(services, DEMO_ACTOR, { name: "strangers", url: prometheus.url, queries, naming, stepS: 60 });
    const { key } = await makeSource(services, DEMO_ACTOR, { name: "floods", url: null, queries: [], naming, stepS: 60 });

    const web = startNode(["bin/web.mjs", "-H", "127.0.0.1", "-p", String(webPort)], {
      ...env,
      NODE_ENV: "production",
      NEXT_TELEMETRY_DISABLED: "1",
    });
    stops.push(() => web.stop());
    const workers = [0, 1].map(() => startNode(typescript("src/worker/main.ts"), env));
    for (const worker of workers) stops.push(() => worker.stop());
    await Promise.all(workers.map(({ firstLine }) => firstLine));
    for (let i = 0; i < 300 && !(await fetch(`${url}/api/health`).catch(() => null))?.ok; i++) await pause(100);

    const stopping = new AbortController();
    const outside = { url, key: key ?? "", stopping: stopping.signal };
    const from = await now();
    const began = performance.now();
    // In small steps: the stand-in's own speeds are for people.
    const stepOn = async () => {
      const to = Math.floor(from + ((performance.now() - began) / 1_000) * RATE);
      await fetch(`${standinUrl}/clock/step`, { method: "POST", body: JSON.stringify({ to }) });
      return to;
    };
    const all = Promise.all([people(url, stopping.signal), flood(outside), study(outside)]);
    let isKilled = false;
    const peaks = new Map<Process, number>();
    for (let clock = from; clock < from + HOUR_S; clock = await stepOn()) {
      if (!isKilled && clock > from + HOUR_S / 2) {
        workers[0]?.child.kill("SIGKILL");
        isKilled = true;
      }
      for (const one of [web, ...workers]) peaks.set(one, Math.max(peaks.get(one) ?? 0, peakMb(one)));
      await pause(500);
    }
    stopping.abort();
    const [looks, floods, studies] = await all;
    await told(services, { from, to: from + HOUR_S });
    const sorted = [...looks.times].sort((a, b) => a - b);
    const p95 = sorted[Math.ceil(sorted.length * 0.95) - 1] ?? Number.NaN;
    report({
      name: `a hostile hour: ten people's ${sorted.length} looks`,
      figure: `median ${(sorted[Math.floor(sorted.length / 2)] ?? Number.NaN).toFixed(0)} ms, p95 ${p95.toFixed(0)} ms, the slowest ${looks.slowest.path} ${looks.slowest.ms.toFixed(0)} ms; ${looks.failed.length} without an answer${looks.failed.length > 0 ? ` (${[...new Set(looks.failed)].slice(0, 5).join(", ")})` : ""}`,
      target: "none above 2000 ms, each answered",
      isMet: looks.slowest.ms <= 2_000 && looks.failed.length === 0,
      yardstick: BESIDE,
    });
    const memory = [...peaks.values()];
    report({
      name: "a hostile hour: the most memory of the web process and of each worker",
      figure: `${memory.map((mb) => mb.toFixed(0)).join(", ")} MB`,
      target: "1000 MB",
      isMet: memory.every((mb) => mb > 0 && mb <= 1_000),
      yardstick: BESIDE,
    });
    const answered = [...floods, ...studies].map(([what, n]) => `${n} x ${what}`).join(", ");
    report({
      name: "a hostile hour: what floods and studies were answered",
      figure: answered,
      target: "each with an answer, none with a fault of ours",
      isMet: [...floods.keys(), ...studies.keys()].every((what) => !/ (5\d\d|no answer)$/.test(what)),
      yardstick: BESIDE,
    });
  } finally {
    for (const stop of stops.reverse()) await stop();
  }
}

async function prepare(services: Services, standinUrl: string): Promise<void> {
  const stepTo = (to: number) => fetch(`${standinUrl}/clock/step`, { method: "POST", body: JSON.stringify({ to }) });
  await migrateDatabase(services, DEMO_ACTOR, "db/migrations");
  await runMigrations({ pgPool: services.pool });
  await connectAccounts(services, DEMO_ACTOR, crowdAccounts(standinUrl));
  await stepTo(CROWD_START + 12 * 60);
  await runRound(services, WORKER, "act");
  await loadPlan(services, DEMO_ACTOR, { text: PLAN, inForce: ["late-shift", "crowd"] });
  for (const minutes of [13, 14, 16, 17, 18]) {
    await stepTo(CROWD_START + minutes * 60);
    await runRound(services, WORKER, "act");
  }
}

/** How late rounds were, whether an edge was missed, and whether anything was lost. */
async function told({ pool }: Services, { from, to }: Readonly<{ from: number; to: number }>): Promise<void> {
  const { rows: rounds } = await pool.query<{ at: number }>(
    `select extract(epoch from at)::double precision as at from round
     where mode = 'act' and fleet is null and status = 'done' and at between to_timestamp($1::double precision) and to_timestamp($2::double precision)
     order by at`,
    [from, to],
  );
  const instants = [from, ...rounds.map(({ at }) => at), to];
  const gap = Math.max(...instants.slice(1).map((at, i) => at - (instants[i] as number)));
  report({
    name: `a hostile hour over ${MACHINES} machines, one worker of two killed: ${rounds.length} rounds, the longest time without one`,
    figure: `${gap.toFixed(0)} s`,
    target: "a minute, and at most two minutes late",
    isMet: gap <= 180,
    yardstick: BESIDE,
  });
  const edges: string[] = [];
  let isKept = true;
  for (let edge = Math.ceil(from / EDGE_S) * EDGE_S; edge + 180 <= to; edge += EDGE_S) {
    const { rows } = await pool.query<{ told: number; last: number | null }>(
      `select count(distinct resource_id)::integer as told, max(extract(epoch from recorded_at) - $1::double precision)::double precision as last
       from action
       where recorded_at >= to_timestamp($1::double precision) and recorded_at < to_timestamp($1::double precision + $2::double precision)`,
      [edge, EDGE_S],
    );
    const [{ told: count, last } = { told: 0, last: null }] = rows;
    edges.push(`${count} within ${last?.toFixed(0) ?? "-"} s`);
    isKept &&= count === LATE && (last ?? Number.POSITIVE_INFINITY) <= 180;
  }
  report({
    name: `a hostile hour: machines of ${LATE} that were told at each edge`,
    figure: edges.join(", "),
    target: `${LATE} each, within a minute and at most two minutes late`,
    isMet: isKept && edges.length >= 5,
    yardstick: BESIDE,
  });
  const { rows: ends } = await pool.query<{ status: string; n: number }>(
    "select status, count(*)::integer as n from action where recorded_at < to_timestamp($1::double precision - 300) group by status order by status",
    [to],
  );
  report({
    name: "a hostile hour: how what was asked for ended, five minutes before its end and earlier",
    figure: ends.map(({ status, n }) => `${n} ${status}`).join(", "),
    target: "all done",
    isMet: ends.length > 0 && ends.every(({ status }) => status === "done"),
    yardstick: BESIDE,
  });
}
