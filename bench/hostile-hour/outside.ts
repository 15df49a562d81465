import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { setTimeout as pause } from "node:timers/promises";
import { gzipSync } from "node:zlib";
import { type Mix, mixSchema } from "@/core/mix";
import { emptyPoints } from "../../tests/support/otlp";

/** Everybody outside means harm, or means well and does harm: what they do, over and over, until told to stop. */
export type Outside = Readonly<{ url: string; key: string; stopping: AbortSignal }>;
/** What a kind of them got as answers, by status. */
export type Answers = Map<string, number>;

const STRANGERS = 5_000;
const NAMES = 12_000;
const HOSTS = 100_000;
const EMPTY = 30_000_000;

async function listening(server: Server): Promise<{ url: string; close: () => void }> {
  await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
  return {
    url: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    close: () => {
      server.closeAllConnections();
      server.close();
    },
  };
}

/** A Prometheus that knows five thousand machines, none of them ours. */
export function strangersPrometheus(now: () => number) {
  const series = Array.from({ length: STRANGERS }, (_, i) => ({ metric: { instance: `crowd-x${i}:9100` } }));
  return listening(
    createServer((request, response) => {
      request.resume();
      const at = now();
      const result = series.map(({ metric }, i) => ({ metric, value: [at, String(i % 100)] }));
      response.setHeader("content-type", "application/json");
      response.end(JSON.stringify({ status: "success", data: { resultType: "vector", result } }));
    }),
  );
}

/** A receiver that takes what it is told, and answers a byte every five seconds. */
export function drippingReceiver() {
  return listening(
    createServer((request, response) => {
      request.resume();
      response.writeHead(200);
      const drip = setInterval(() => response.write("."), 5_000);
      response.on("close", () => clearInterval(drip));
    }),
  );
}

const attribute = (key: string, text: string) => ({ key, value: { stringValue: text } });

function manyNames(turn: number): Buffer {
  const metrics = Array.from({ length: NAMES }, (_, i) => ({
    name: `odd.${turn}.${i}`,
    gauge: { dataPoints: [{ timeUnixNano: "1803888000000000000", asDouble: 1 }] },
  }));
  const resource = { attributes: [attribute("host.name", "crowd-7")] };
  return Buffer.from(JSON.stringify({ resourceMetrics: [{ resource, scopeMetrics: [{ metrics }] }] }));
}

function manyHosts(turn: number): Buffer {
  const hosts = Array.from(
    { length: HOSTS },
    (_, i) => `{"resource":{"attributes":[{"key":"host.name","value":{"stringValue":"x${turn}-${i}"}}]}}`,
  );
  return Buffer.from(`{"resourceMetrics":[${hosts.join(",")}]}`);
}

/** Pushes one flood after the other: names, hosts, points. */
export async function flood({ url, key, stopping }: Outside): Promise<Answers> {
  const answers: Answers = new Map();
  const points = gzipSync(emptyPoints(EMPTY));
  const push = async (what: string, body: Buffer, headers: Record<string, string>) => {
    const answer = await fetch(`${url}/v1/metrics`, {
      method: "POST",
      headers: { authorization: `Bearer ${key}`, ...headers },
      body: new Uint8Array(body),
    }).then(
      async (response) => {
        await response.arrayBuffer();
        return String(response.status);
      },
      () => "no answer",
    );
    answers.set(`${what} ${answer}`, (answers.get(`${what} ${answer}`) ?? 0) + 1);
  };
  for (let turn = 0; !stopping.aborted; turn++) {
    await push("names", manyNames(turn), { "content-type": "application/json" });
    await push("hosts", manyHosts(turn), { "content-type": "application/json" });
    await push("points", points, { "content-type": "application/x-protobuf", "content-encoding": "gzip" });
    await pause(3_000);
  }
  return answers;
}

/** As much as one study may be: it is refused from an hour of computing on. */
const LARGEST: Mix = mixSchema.parse({
  wanted: 100,
  firm: 20,
  firmPrice: 0.3,
  setupMinutes: 5,
  eviction: "drop",
  order: "even",
  refillEveryMinutes: 5,
  provisionMinutes: 1,
  floor: 40,
  pools: [
    { name: "a", price: 0.1, hazard: { shape: 3, rate: 200 }, availableHours: 40, dryHours: 2 },
    { name: "b", price: 0.13, hazard: 0.01 },
  ],
});

/** Asks for studies as large as they may be, each fleet's begun anew before it has ended. */
export async function study({ url, stopping }: Outside): Promise<Answers> {
  const answers: Answers = new Map();
  for (let turn = 0; !stopping.aborted; turn++) {
    // The most days that are taken.
    for (let days = 366; days > 1; days = Math.floor(days / 2)) {
      const answer = await fetch(`${url}/api/mix/studies`, {
        method: "POST",
        headers: { "content-type": "application/json" },
        body: JSON.stringify({ fleet: `study-${turn % 3}`, mix: LARGEST, days, trials: 1_000 }),
      });
      await answer.arrayBuffer();
      answers.set(`${days} days ${answer.status}`, (answers.get(`${days} days ${answer.status}`) ?? 0) + 1);
      if (answer.ok) break;
    }
    await pause(60_000, undefined, { signal: stopping }).catch(() => {});
  }
  return answers;
}
