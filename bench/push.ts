import { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import { from as copyFrom } from "pg-copy-streams";
import { chooseReady, type PoolMachine } from "@/core/ready";
import { REQUEST } from "@/provider/otlp/schema";
import { DEMO_ACTOR, type Services } from "@/services/admin";
import { readClouds } from "@/services/inventory";
import { makeSource, receivePush } from "@/services/metrics";
import { startHere } from "../tests/support/weeks/standin-here";
import { MANY_MACHINES } from "./burn";
import { medianMs, medianMsAsync, report } from "./measure";

const START = Date.UTC(2027, 2, 16) / 1000;
const MACHINES = 10_000;
const NAMING = { attribute: "host.name", names: "name", tag: null, account: null, domain: null } as const;

/** Pushed metrics on their way in, and the choice for a large pool. */
export async function benchPush(yardstick: number): Promise<void> {
  const beside = `${yardstick.toFixed(0)} ms`;
  const here = await startHere(START);
  try {
    const { services } = here;
    await readClouds(services, START);
    await services.pool.query(MANY_MACHINES, [MACHINES]);
    const ids = Array.from({ length: MACHINES }, (_, i) => `many-${i + 1}`);
    const made = await makeSource(services, DEMO_ACTOR, { name: "all", url: null, queries: [], naming: NAMING, stepS: 60 });
    const push = pusher(services, made.key ?? "");
    let minute = 0;
    const body = (metrics: number) => protobufOf(ids, { metrics, at: START - 3_600 + 60 * minute++ });
    await push(body(1));
    let next = body(1);
    const oneMs = await medianMsAsync(() => push(next), {
      runs: 7,
      before: async () => {
        next = body(1);
      },
    });
    report({
      name: `a push of ${MACHINES} machines' minute`,
      figure: `${oneMs.toFixed(0)} ms`,
      target: "300 ms",
      isMet: oneMs <= 300,
      yardstick: beside,
    });
    // Half of a push each, so that both cores have their share.
    const halves = [ids.slice(0, MACHINES / 2), ids.slice(MACHINES / 2)];
    const metrics = 10;
    let pair = halves.map((half) => protobufOf(half, { metrics, at: START }));
    const manyMs = await medianMsAsync(() => Promise.all(pair.map(push)), {
      runs: 3,
      before: async () => {
        const at = START - 3_600 + 60 * minute++;
        pair = halves.map((half) => protobufOf(half, { metrics, at }));
      },
    });
    const samples = MACHINES * metrics;
    const copyMs = await medianMsAsync(() => copyOf(services, ids, metrics), { runs: 3 });
    const perSecond = (samples / manyMs) * 1000;
    report({
      name: `pushed samples taken in and stored, ${samples} at a time`,
      figure: `${Math.round(perSecond)} a second; COPY of the same ${Math.round((samples / copyMs) * 1000)} a second`,
      target: "100,000 a second",
      isMet: perSecond >= 100_000,
      yardstick: beside,
    });
  } finally {
    await here.close();
  }
  const pool = Array.from(
    { length: 2_000 },
    (_, i): PoolMachine => ({
      id: `m${i}`,
      name: `m${String((i * 7919) % 2_000)}`,
      state: i % 3 === 0 ? "hibernated" : i % 5 === 0 ? "off" : "running",
      since: START - ((i * 104_729) % 90_000),
      isGuarded: i % 97 === 0,
      held: i % 41 === 0 ? "on" : null,
      isInUse: i % 3 !== 0 && i % 5 !== 0 && i % 2 === 0,
      isFailing: false,
    }),
  );
  const chooseMs = medianMs(() => chooseReady(pool, { hours: 900, spare: 40, settleMinutes: 10, now: START }));
  report({
    name: "choosing for a pool of 2,000 machines",
    figure: `${chooseMs.toFixed(1)} ms`,
    target: "5 ms",
    isMet: chooseMs <= 5,
    yardstick: beside,
  });
}

function pusher(services: Services, key: string) {
  return async (body: Buffer): Promise<void> => {
    const answer = await receivePush(
      services,
      new Request("http://here/v1/metrics", {
        method: "POST",
        headers: { authorization: `Bearer ${key}`, "content-type": "application/x-protobuf" },
        body: new Uint8Array(body),
      }),
    );
    if (answer.status !== 200 || (await answer.arrayBuffer()).byteLength > 0) throw new Error(`a push answered ${answer.status}`);
  };
}

/** A minute of some gauges of each host. */
function protobufOf(ids: readonly string[], { metrics, at }: { metrics: number; at: number }): Buffer {
  const resourceMetrics = ids.map((id, i) => ({
    resource: { attributes: [{ key: "host.name", value: { stringValue: id } }] },
    scopeMetrics: [
      {
        metrics: Array.from({ length: metrics }, (_, m) => ({
          name: `load.${m}`,
          gauge: { dataPoints: [{ timeUnixNano: at * 1e9, asDouble: ((i * 31 + m * 7) % 1_000) / 10 }] },
        })),
      },
    ],
  }));
  return Buffer.from(REQUEST.encode(REQUEST.fromObject({ resourceMetrics })).finish());
}

/** The same samples by COPY alone, into a table of their own. */
async function copyOf({ pool }: Services, ids: readonly string[], metrics: number): Promise<void> {
  const client = await pool.connect();
  try {
    await client.query(
      "create temporary table if not exists copied (resource_id text, metric text, at timestamptz, step_s integer, value double precision)",
    );
    const at = new Date(START * 1000).toISOString();
    const lines = ids.map((id, i) =>
      Array.from({ length: metrics }, (_, m) => `${id}\tload.${m}\t${at}\t60\t${((i * 31 + m * 7) % 1_000) / 10}\n`).join(""),
    );
    await pipeline(Readable.from(lines), client.query(copyFrom("copy copied from stdin")));
  } finally {
    client.release();
  }
}
