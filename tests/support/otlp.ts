import { createServer } from "node:http";
import type { AddressInfo } from "node:net";
import type { Services } from "@/services/admin";
import { receivePush } from "@/services/metrics";
import { recentSamples } from "@/store";
import type { Here } from "./weeks/standin-here";

/** A server that takes pushes in as the application's route does, without the rest of it. */
export async function serveOtlp(services: Services): Promise<{ url: string; close: () => Promise<void> }> {
  const server = createServer((incoming, outgoing) => {
    const parts: Buffer[] = [];
    incoming.on("data", (part: Buffer) => parts.push(part));
    incoming.on("end", async () => {
      const headers = new Headers();
      for (const [name, value] of Object.entries(incoming.headers)) if (typeof value === "string") headers.set(name, value);
      const request = new Request(`http://here${incoming.url}`, { method: "POST", headers, body: Buffer.concat(parts) });
      const answer = await receivePush(services, request);
      outgoing.writeHead(answer.status, Object.fromEntries(answer.headers));
      outgoing.end(Buffer.from(await answer.arrayBuffer()));
    });
  });
  // A client that is busy for long finds its connection as it left it.
  server.keepAliveTimeout = 120_000;
  await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
  return {
    url: `http://127.0.0.1:${(server.address() as AddressInfo).port}/v1/metrics`,
    close: () => {
      server.closeAllConnections();
      return new Promise((resolve) => server.close(() => resolve()));
    },
  };
}

/** Parts of a request in JSON, as the protocol has them. */
export const attribute = (name: string, text: string) => ({ key: name, value: { stringValue: text } });

export const bodyOf = (...resourceMetrics: object[]) => JSON.stringify({ resourceMetrics });

/** A request of one gauge whose points are all empty, two bytes each, as the protocol has it on the wire. */
export function emptyPoints(count: number): Buffer {
  const within = (tag: number, inner: Buffer) => {
    const length: number[] = [];
    for (let left = inner.length; ; left = Math.floor(left / 128)) {
      length.push(left >= 128 ? (left % 128) | 128 : left);
      if (left < 128) break;
    }
    return Buffer.concat([Buffer.from([tag, ...length]), inner]);
  };
  const points = Buffer.alloc(2 * count, Buffer.from([0x0a, 0x00]));
  return within(0x0a, within(0x12, within(0x12, within(0x2a, points))));
}

type Gauge = Readonly<{ host: string; metric: string; value: number; at: number; more?: readonly object[] }>;

export const gauge = ({ host, metric, value, at, more = [] }: Gauge) => ({
  resource: { attributes: [attribute("host.name", host), ...more] },
  scopeMetrics: [{ metrics: [{ name: metric, gauge: { dataPoints: [{ timeUnixNano: `${at}000000000`, asDouble: value }] } }] }],
});

/** What a machine of the stand-in is known by. */
export function keyOfNamed({ keeper }: Here, name: string): string {
  const unit = keeper.world.units.find((one) => one.name === name);
  return `${unit?.account}:${unit?.id}`;
}

/** What is stored of a metric of a machine over the last two hours. */
export async function samplesTold(here: Here, name: string, metric: string): Promise<number[]> {
  const id = keyOfNamed(here, name);
  const now = here.keeper.now();
  const found = await recentSamples(here.services.pool, { ids: [id], metrics: [metric], from: now - 7200, to: now + 300 });
  return (found.get(id) ?? []).map(({ value }) => value);
}

/** Pushes a body with a source's key, as JSON unless its headers say otherwise. */
export function pushTo(
  { url, key }: Readonly<{ url: string; key: string }>,
  body: Buffer | string,
  headers: Readonly<Record<string, string>>,
): Promise<Response> {
  return fetch(url, {
    method: "POST",
    headers: { authorization: `Bearer ${key}`, "content-type": "application/json", ...headers },
    body: typeof body === "string" ? body : new Uint8Array(body),
  });
}
