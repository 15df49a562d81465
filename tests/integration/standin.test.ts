import { afterAll, beforeAll, expect, test } from "vitest";
import { WORLD_START } from "../../demo/world";
import { get, post, type Standin, startStandin } from "../support/world";

let standin: Standin;
const desks = "demo-key-desks";
const bearer = (key: string, once = "k") => ({ authorization: `Bearer ${key}`, "idempotency-key": once });

beforeAll(async () => {
  standin = await startStandin();
});
afterAll(() => standin.stop());

type Page = { resources: { id: string; name: string; state: string }[]; next: string | null; total: number };
type Refused = { error: { code: string } };

test("a listing comes in pages that together are everything, once", async () => {
  const names: string[] = [];
  let cursor: string | null = "0";
  let total = 0;
  while (cursor !== null) {
    const page: Page = await get<Page>(`${standin.url}/norrhav/v1/resources?limit=7&cursor=${cursor}`, desks);
    names.push(...page.resources.map(({ id }) => id));
    cursor = page.next;
    total = page.total;
  }
  expect(names).toHaveLength(total);
  expect(new Set(names).size).toBe(total);
});

test("a key sees its own account only, and works at its own provider only", async () => {
  const page = await get<{ resources: { account: string }[] }>(`${standin.url}/norrhav/v1/resources`, desks);
  expect(new Set(page.resources.map(({ account }) => account))).toEqual(new Set(["skerry-desks"]));
  expect(await get<Refused>(`${standin.url}/brackwater/v1/resources`, desks)).toMatchObject({ error: { code: "bad_key" } });
  expect(await get<Refused>(`${standin.url}/norrhav/v1/resources`)).toMatchObject({ error: { code: "bad_key" } });
});

test("a key without a right gets a refusal that names it", async () => {
  const answer = await post(
    `${standin.url}/brackwater/v1/resources/brackwater-class-01/stop`,
    {},
    bearer("demo-key-learn-no-stop"),
  );
  expect(answer).toMatchObject({
    status: 403,
    body: { error: { code: "right_missing", message: "this key has no right to stop" } },
  });
});

test("the same key sent twice does the thing once", async () => {
  const before = await get<{ events: unknown[] }>(`${standin.url}/norrhav/v1/events?after=0&limit=1000`, desks);
  const path = `${standin.url}/norrhav/v1/resources/norrhav-desk-osl-07/stop`;
  const first = await post(path, {}, bearer(desks, "once"));
  const second = await post(path, {}, bearer(desks, "once"));
  expect(first.status).toBe(202);
  expect(second).toEqual(first);
  const after = await get<{ events: { type: string }[] }>(`${standin.url}/norrhav/v1/events?after=0&limit=1000`, desks);
  expect(after.events.length - before.events.length).toBe(1);
  expect(await post(path, {}, { authorization: `Bearer ${desks}` })).toMatchObject({
    status: 400,
    body: { error: { code: "no_key" } },
  });
});

test("the clock steps forward, never back, and only at its rates", async () => {
  const now = (await get<{ now: number }>(`${standin.url}/clock`)).now;
  expect(await post(`${standin.url}/clock/step`, { to: now + 3600 })).toMatchObject({ body: { now: now + 3600, rate: 0 } });
  expect((await post(`${standin.url}/clock/step`, { to: now })).status).toBe(400);
  expect((await post(`${standin.url}/clock`, { rate: 7 })).status).toBe(400);
});

test("the world is the same after a restart, and its clock stood still meanwhile", async () => {
  const before = await get<{ now: number }>(`${standin.url}/clock`);
  const listed = await get<Page>(`${standin.url}/norrhav/v1/resources`, desks);
  standin = await standin.restart();
  expect(await get(`${standin.url}/clock`)).toMatchObject({ now: before.now });
  expect(await get<Page>(`${standin.url}/norrhav/v1/resources`, desks)).toEqual(listed);
  expect(listed.resources.find(({ name }) => name === "desk-osl-07")?.state).toBe("stopped");
});

test("too many requests at once are throttled, with when to come back", async () => {
  const answers = await Promise.all(
    Array.from({ length: 220 }, () =>
      fetch(`${standin.url}/brackwater/v1/commitments`, { headers: { authorization: "Bearer demo-key-learn" } }),
    ),
  );
  const throttled = answers.filter(({ status }) => status === 429);
  expect(throttled.length).toBeGreaterThan(20);
  expect(throttled[0]?.headers.get("retry-after")).toBe("1");
});

test("every path that is described answers, and what is not is a 404", async () => {
  const { paths } = await get<{ paths: Record<string, { get?: unknown }> }>(`${standin.url}/openapi.json`);
  for (const [path, methods] of Object.entries(paths)) {
    if (!methods.get) continue;
    const url = `${standin.url}${path.replace("{provider}", "norrhav")}${path.endsWith("metrics") ? `?metric=cpu&day=${WORLD_START - 86_400}` : ""}`;
    const response = await fetch(url, { headers: { authorization: `Bearer ${desks}` } });
    expect(response.status, path).toBe(200);
  }
  expect((await fetch(`${standin.url}/norrhav/v1/nothing`, { headers: { authorization: `Bearer ${desks}` } })).status).toBe(404);
});
