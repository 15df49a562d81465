import { createServer, type IncomingMessage, type Server, type ServerResponse } from "node:http";
import type { AddressInfo } from "node:net";
import { afterEach, expect, test } from "vitest";
import { asLevel } from "@/core/hours";
import { httpProvider, type ProviderPort, remoteClock } from ".";

let server: Server | null = null;
afterEach(() => {
  server?.closeAllConnections();
  server?.close();
});

type Answer = (request: IncomingMessage, response: ServerResponse) => void;

/** A cloud that answers as a test says. */
async function cloud(answer: Answer): Promise<ProviderPort> {
  return httpProvider({ provider: "p1", baseUrl: await listening(answer), key: "k" });
}

async function listening(answer: Answer): Promise<string> {
  const made = createServer(answer);
  server = made;
  await new Promise<void>((resolve) => made.listen(0, "127.0.0.1", resolve));
  return `http://127.0.0.1:${(made.address() as AddressInfo).port}`;
}

const json = (response: ServerResponse, status: number, body: unknown) => {
  response.writeHead(status, { "content-type": "application/json" });
  response.end(JSON.stringify(body));
};
const LINE = {
  id: "x",
  name: "x",
  kind: "machine",
  account: "a",
  region: "r",
  zone: "",
  size: "s",
  os: "linux",
  purchase: "firm",
  tags: { own: "1", both: "own" },
  container: { name: "c", tags: { both: "container" } },
  accountTags: { payer: "p" },
  state: "running",
  level: 1,
  target: 1,
  levelMax: 1,
  since: 5,
  runSince: 5,
  cores: 1,
  memoryGib: 1,
  diskGib: 1,
  diskClass: "plain",
  addresses: 0,
  attachedTo: null,
};
const STOP = { resourceId: "x/y", verb: "stop" as const, level: asLevel(0), key: "once" };

test("a listing is read to its last page, with effective tags, and empty fields left out", async () => {
  const port = await cloud((request, response) => {
    const isFirst = request.url?.includes("cursor=0");
    json(response, 200, { resources: [{ ...LINE, id: isFirst ? "x" : "y" }], next: isFirst ? "1" : null });
  });
  const resources = await port.listResources();
  expect(resources.map(({ id }) => id)).toEqual(["x", "y"]);
  expect({ ...resources[0]?.tags }).toEqual({ payer: "p", both: "own", own: "1" });
  expect(resources[0]?.fields).toEqual({
    account: "a",
    provider: "p1",
    region: "r",
    name: "x",
    kind: "machine",
    size: "s",
    os: "linux",
    purchase: "firm",
  });
});

test("an answer that is not as agreed is an error that says where, never half a listing", async () => {
  const port = await cloud((_, response) => json(response, 200, { resources: [LINE, { ...LINE, state: "asleep" }], next: null }));
  await expect(port.listResources()).rejects.toThrow(/something else than agreed .*resources\.1\.state/);
});

test("a listing that never ends is given up", async () => {
  const port = await cloud((_, response) => json(response, 200, { resources: [], next: "again" }));
  await expect(port.listResources()).rejects.toThrow("more than 2000 pages");
});

test("throttled reads are tried again, and go through", async () => {
  let calls = 0;
  const port = await cloud((_, response) =>
    ++calls < 3 ? json(response, 429, {}) : json(response, 200, { events: [], isMore: false }),
  );
  expect(await port.eventsAfter(0)).toEqual({ events: [], isMore: false });
  expect(calls).toBe(3);
});

test("a refused read says the provider's own reason; one without a reason says so", async () => {
  const refused = await cloud((_, response) =>
    json(response, 403, { error: { code: "right_missing", message: "this key has no right to list" } }),
  );
  await expect(refused.prices()).rejects.toThrow("p1 answered 403: this key has no right to list");
  server?.close();
  const broken = await cloud((_, response) => response.writeHead(502).end("<html>"));
  await expect(broken.prices()).rejects.toThrow("p1 answered 502: no reason given");
});

test("a cloud that hangs up is an error for a read and a retry for an action", async () => {
  const port = await cloud((_, response) => response.destroy());
  await expect(port.describe()).rejects.toThrow("no answer");
  expect(await port.act(STOP)).toMatchObject({ kind: "retry", why: expect.stringContaining("no answer") });
});

test.each([
  [202, {}, { kind: "accepted" }],
  [409, { error: { code: "no_capacity", message: "none to be had" } }, { kind: "retry", why: "none to be had" }],
  [429, { error: { code: "throttled", message: "slower" } }, { kind: "retry", why: "slower" }],
  [503, {}, { kind: "retry", why: "no reason given" }],
  [403, { error: { code: "right_missing", message: "no right" } }, { kind: "refused", why: "no right" }],
  [422, { error: { code: "not_possible", message: "cannot" } }, { kind: "refused", why: "cannot" }],
])("an action answered with %i %o is %o", async (status, body, expected) => {
  const port = await cloud((_, response) => json(response, status, body));
  expect(await port.act(STOP)).toEqual(expected);
});

test("an action carries its key, the right verb and, for a resize, the level", async () => {
  const seen: string[] = [];
  const port = await cloud((request, response) => {
    let body = "";
    request.on("data", (part) => {
      body += part;
    });
    request.on("end", () => {
      seen.push(
        `${request.method} ${request.url} ${request.headers["idempotency-key"]} ${request.headers.authorization} ${body}`,
      );
      json(response, 202, {});
    });
  });
  await port.act(STOP);
  await port.act({ ...STOP, verb: "resize", level: asLevel(4) });
  expect(seen).toEqual([
    "POST /v1/resources/x%2Fy/stop once Bearer k {}",
    'POST /v1/resources/x%2Fy/resize once Bearer k {"level":4}',
  ]);
});

test("a clock that answers nonsense or not at all is an error, not a time", async () => {
  const nonsense = remoteClock(await listening((_, response) => json(response, 200, { now: "soon" })));
  await expect(nonsense.read()).rejects.toThrow("the clock answered 200");
  server?.close();
  await expect(remoteClock("http://127.0.0.1:9/clock").read()).rejects.toThrow("the clock does not answer");
});
