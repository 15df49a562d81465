import { createServer, type IncomingMessage, type Server, type ServerResponse } from "node:http";
import type { AddressInfo } from "node:net";
import { afterEach, expect, test } from "vitest";
import { asLevel } from "@/core/hours";
import { httpProvider, type ProviderParts, remoteClock } from ".";

let server: Server | null = null;
afterEach(() => {
  server?.closeAllConnections();
  server?.close();
});

type Answer = (request: IncomingMessage, response: ServerResponse) => void;

/** All that the parts can be asked, side by side. */
type Flat = ProviderParts["listing"] &
  ProviderParts["power"] &
  NonNullable<ProviderParts["feed"]> &
  NonNullable<ProviderParts["prices"]>;

function flat({ listing, power, feed, prices }: ProviderParts): Flat {
  if (!feed || !prices) throw new Error("an account over HTTP has every part");
  return { ...listing, ...power, ...feed, ...prices };
}

/** A cloud that answers as a test says. */
async function cloud(answer: Answer): Promise<Flat> {
  return flat(httpProvider({ name: "a", provider: "p1", baseUrl: await listening(answer), key: "k" }));
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
const STOP = { resourceId: "a:x/y", verb: "stop" as const, level: asLevel(0), key: "once" };

test("a listing is read to its last page, with effective tags, and empty fields left out", async () => {
  const port = await cloud((request, response) => {
    const isFirst = request.url?.includes("cursor=0");
    json(response, 200, { resources: [{ ...LINE, id: isFirst ? "x" : "y" }], next: isFirst ? "1" : null });
  });
  const { resources } = await port.listResources();
  expect(resources.map(({ id }) => id)).toEqual(["a:x", "a:y"]);
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
  const port = await cloud((_, response) => json(response, 200, { resources: { x: LINE }, next: null }));
  await expect(port.listResources()).rejects.toThrow(/something else than agreed .*resources: /);
});

test("a listing that never ends is given up", async () => {
  let page = 0;
  const port = await cloud((_, response) => json(response, 200, { resources: [], next: String(++page) }));
  await expect(port.listResources()).rejects.toThrow("more than 2000 pages");
});

test("throttled reads are tried again, and go through", async () => {
  let calls = 0;
  const port = await cloud((_, response) =>
    ++calls < 3 ? json(response, 429, {}) : json(response, 200, { events: [], isMore: false }),
  );
  expect(await port.eventsAfter(0)).toMatchObject({ events: [], last: 0, isMore: false });
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

test("one odd line is set aside alone, by name and reason, and the rest of the listing goes on", async () => {
  const odd = [
    { ...LINE, id: "nul", tags: { a: "b\0" } },
    { ...LINE, id: "half", name: "\ud800" },
    { ...LINE, id: "big", level: 2 ** 31 },
    { ...LINE, id: "twice" },
    { ...LINE, id: "twice", state: "stopped" },
    { ...LINE, id: "alike" },
    { ...LINE, id: "alike" },
    { id: 5 },
    null,
  ];
  const port = await cloud((_, response) => json(response, 200, { resources: [LINE, ...odd], next: null }));
  const { resources, setAside } = await port.listResources();
  expect(resources.map(({ id }) => id)).toEqual(["a:x", "a:alike"]);
  expect(setAside.map(({ id, why }) => `${id}: ${why}`)).toEqual([
    "a:nul: tags.a: has a character that is none",
    "a:half: name: has a character that is none",
    expect.stringContaining("a:big: level: Too big"),
    "a:twice: it is listed twice, and not alike",
    expect.stringContaining("null: id: "),
    expect.stringContaining("null: it: "),
  ]);
});

test("a listing that goes round in circles, or a page without end, is an error", async () => {
  const round = await cloud((_, response) => json(response, 200, { resources: [], next: "1" }));
  await expect(round.listResources()).rejects.toThrow("lists the page 1 twice");
});

test("the cursor of a feed goes on behind an event that cannot be understood, however large its number", async () => {
  const event = { n: 3_000_000_000, at: 5, resource: "x", type: "stopped", state: "stopped", level: 0, note: "" };
  const port = await cloud((_, response) =>
    json(response, 200, { events: [event, { ...event, n: 3_000_000_001, note: "\0" }], isMore: false }),
  );
  expect(await port.eventsAfter(7)).toMatchObject({
    events: [{ n: 3_000_000_000, resourceId: "a:x" }],
    last: 3_000_000_001,
    setAside: [{ name: "event 3000000001", why: "note: has a character that is none" }],
  });
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
  [503, {}, { kind: "retry", why: "it answered 503, and no reason" }],
  [502, { error: { code: "not_possible", message: "cannot" } }, { kind: "retry", why: "cannot" }],
  [400, "<html>a page</html>", { kind: "retry", why: "it answered 400, and no reason" }],
  [302, {}, { kind: "retry", why: "it answered 302, and no reason" }],
  [401, { error: { code: "key_unknown", message: "no such key" } }, { kind: "retry", why: "no such key" }],
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
