import { afterEach, expect, test, vi } from "vitest";
import { z } from "zod";

vi.mock("server-only", () => ({}));
const acting = vi.hoisted(() => ({ rights: ["look", "hold"] as readonly string[] }));
vi.mock("../services", () => ({
  services: () => ({}),
  actor: () => ({
    name: "some one",
    grants: acting.rights.map((right) => ({ right, reach: { fleets: ["desks"], accounts: [] } })),
  }),
}));

const { answers, done, estate, byId, route, noBody } = await import(".");

afterEach(() => {
  acting.rights = ["look", "hold"];
});

const context = (params: Record<string, string> = {}) => ({ params: Promise.resolve(params) });
const asked = (method: string, body?: unknown, headers: Record<string, string> = {}) =>
  new Request("http://127.0.0.1/x?page=2", {
    method,
    headers: { host: "127.0.0.1", ...(body === undefined ? {} : { "content-type": "application/json" }), ...headers },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });

test("what comes in is read and checked by schema, and what goes out is held to its own", async () => {
  const GET = route(
    "look",
    estate,
    {
      input: { params: byId, query: z.object({ page: z.string().transform(Number) }) },
      answer: answers(z.strictObject({ sum: z.number() })),
    },
    ({ params, query }) => ({ sum: params.id + query.page }),
  );
  expect(await (await GET(asked("GET"), context({ id: "40" }))).json()).toEqual({ sum: 42 });
  const none = await GET(asked("GET"), context({ id: "x" }));
  expect([none.status, none.headers.get("content-type")]).toEqual([404, "application/problem+json"]);
  expect(await none.json()).toMatchObject({
    type: "about:blank",
    status: 404,
    code: "not_found",
    detail: "There is nothing with the number x.",
  });
});

test("a body that does not fit is refused with every field, and another site before anything is read", async () => {
  let calls = 0;
  const body = z.strictObject({ level: z.number(), why: z.string() });
  const POST = route(
    "hold",
    () => ({ kind: "fleet", fleet: "desks" }),
    { input: { body }, answer: done },
    () => {
      calls++;
      return {};
    },
  );
  const wrong = await POST(asked("POST", { level: "x" }), context());
  expect(wrong.status).toBe(422);
  expect((await wrong.json()).fields.map(({ path }: { path: string }) => path)).toEqual(["level", "why"]);
  const elsewhere = await POST(asked("POST", { level: 1, why: "x" }, { origin: "http://other.example" }), context());
  expect(await elsewhere.json()).toMatchObject({ code: "invalid", detail: "Requests from other sites are refused." });
  expect(calls).toBe(0);
  expect((await POST(asked("POST", { level: 1, why: "x" }), context())).status).toBe(200);
  expect(calls).toBe(1);
});

test("whoever lacks the right, or has it elsewhere, is refused before the work begins", async () => {
  let calls = 0;
  const on = (fleet: string) =>
    route(
      "hold",
      () => ({ kind: "fleet", fleet }),
      { input: { body: noBody }, answer: done },
      () => {
        calls++;
        return {};
      },
    );
  expect((await on("tides")(asked("POST", {}), context())).status).toBe(403);
  acting.rights = ["look"];
  const refused = await on("desks")(asked("POST", {}), context());
  expect(await refused.json()).toMatchObject({ status: 403, code: "not_allowed", detail: "some one may not hold." });
  expect(calls).toBe(0);
});

test("what breaks says so and nothing of how", async () => {
  const GET = route("look", estate, { input: {}, answer: done }, () => {
    throw new Error("secret");
  });
  const broken = await GET(asked("GET"), context());
  expect(broken.status).toBe(500);
  expect(JSON.stringify(await broken.json())).not.toContain("secret");
});

test.each([
  ["22003", 422, "There is a number in it that is larger than any that is kept. Nothing was changed."],
  ["22021", 422, "There is a character in it that is none. Nothing was changed."],
  ["22008", 422, "There is a date or a time in it that is none. Nothing was changed."],
  ["53100", 507, "Nothing was changed: the database's disk is full."],
])("what the database cannot hold leaves with a sentence that fits: %s", async (code, status, detail) => {
  const GET = route("look", estate, { input: {}, answer: done }, () => {
    throw Object.assign(new Error("secret"), { code });
  });
  expect(await (await GET(asked("GET"), context())).json()).toMatchObject({ status, detail });
});

test("a route without a right, a scope or a schema does not compile", () => {
  // @ts-expect-error: no right
  route(undefined, estate, { input: {}, answer: done }, () => ({}));
  // @ts-expect-error: no such right
  route("do as I like", estate, { input: {}, answer: done }, () => ({}));
  // @ts-expect-error: no scope
  route("look", { input: {}, answer: done }, () => ({}));
  // @ts-expect-error: no input schema
  route("look", estate, { answer: done }, () => ({}));
  // @ts-expect-error: no answer schema
  route("look", estate, { input: {} }, () => ({}));
  // @ts-expect-error: an answer that is not of its schema
  expect(route("look", estate, { input: {}, answer: done }, () => ({ more: 1 }))).toBeTypeOf("function");
});
