import { afterAll, beforeAll, expect, test } from "vitest";
import { type OwnDemo, startOwnDemo } from "../support/own-demo";
import { until } from "../support/patience";
import { get, post } from "../support/world";

let demo: OwnDemo;
beforeAll(async () => {
  demo = await startOwnDemo();
});
afterAll(() => demo?.close());

test("the worker runs rounds by the clock: one a minute of it, however far the clock jumps", async () => {
  const rounds = async () =>
    [...(await (await fetch(`${demo.url}/rounds`)).text()).matchAll(/href="\/rounds\/(\d+)"/g)].map(([, id]) => Number(id));
  await until(async () => (await rounds()).length > 0);
  await post(`${demo.url}/api/clock`, { kind: "rate", rate: 0 });
  const before = Math.max(...(await rounds()));
  const { now } = await get<{ now: number }>(`${demo.url}/api/clock`);
  await post(`${demo.url}/api/clock`, { kind: "to", to: now + 30 });
  await new Promise((resolve) => setTimeout(resolve, 1200));
  expect(Math.max(...(await rounds()))).toBe(before);
  await post(`${demo.url}/api/clock`, { kind: "to", to: now + 7200 });
  await until(async () => Math.max(...(await rounds())) === before + 1);
});

test("requests from other sites, of other types and beyond a million characters are refused", async () => {
  const body = { name: "theirs", select: "team = x" };
  const other = await post(`${demo.url}/api/fleets`, body, { origin: "http://evil.example" });
  expect(other).toMatchObject({ status: 422, body: { detail: "Requests from other sites are refused." } });
  const form = await fetch(`${demo.url}/api/fleets`, {
    method: "POST",
    body: "name=x",
    headers: { "content-type": "application/x-www-form-urlencoded" },
  });
  expect(await form.json()).toMatchObject({ code: "invalid", detail: expect.stringMatching(/JSON|site/) });
  const long = await post(`${demo.url}/api/fleets`, { ...body, select: "x".repeat(1_100_000) });
  expect(long).toMatchObject({ status: 422, body: { detail: expect.stringContaining("too much text") } });
  const half = await fetch(`${demo.url}/api/fleets`, {
    method: "POST",
    body: "{",
    headers: { "content-type": "application/json" },
  });
  expect(await half.json()).toMatchObject({ code: "invalid", detail: expect.stringContaining("JSON") });
  // Nothing of it was made.
  expect(await (await fetch(`${demo.url}/fleets`)).text()).not.toContain("theirs");
});

test("what is not understood names its field; what is not there is not found", async () => {
  expect(await post(`${demo.url}/api/rounds`, { mode: "explode" })).toMatchObject({
    status: 422,
    body: { fields: [{ path: "mode" }] },
  });
  expect(await post(`${demo.url}/api/clock`, { kind: "rate", rate: 7 })).toMatchObject({
    status: 422,
    body: { fields: [{ path: "rate" }] },
  });
  expect(await post(`${demo.url}/api/clock`, { kind: "to", to: 5 })).toMatchObject({
    status: 422,
    body: { detail: expect.stringContaining("never goes back") },
  });
  expect(await post(`${demo.url}/api/fleets/999/force`, { version: 1, why: "x", confirmedStops: 0 })).toMatchObject({
    status: 404,
    body: { detail: "There is no fleet 999." },
  });
  expect(await post(`${demo.url}/api/fleets/1/force`, { version: 1, why: "  ", confirmedStops: 0 })).toMatchObject({
    status: 422,
    body: { fields: [{ path: "why" }] },
  });
});

test("a fleet that somebody else changed meanwhile is a conflict, and nothing is put in force", async () => {
  const stale = await post(`${demo.url}/api/fleets/3/force`, { version: 99, why: "x", confirmedStops: 0 });
  expect(stale).toMatchObject({ status: 409, body: { code: "changed_since" } });
});

test("a change is told to whoever listens, while it happens", async () => {
  const leaving = new AbortController();
  const response = await fetch(`${demo.url}/api/live`, { signal: leaving.signal });
  expect(response.headers.get("content-type")).toBe("text/event-stream");
  const reader = response.body?.getReader();
  let heard = "";
  const listening = (async () => {
    for (;;) {
      const { value, done } = (await reader?.read()) ?? { value: undefined, done: true };
      if (done) return;
      heard += new TextDecoder().decode(value);
    }
  })().catch(() => {});
  await until(async () => heard.includes("open"));
  await post(`${demo.url}/api/fleets`, { name: "heard-of", select: "team = tides" });
  await until(async () => heard.includes("data: fleets"));
  leaving.abort();
  await listening;
});

test("the basis for the browser carries exact integers as text, and no key of an account", async () => {
  const { body } = await post(`${demo.url}/api/basis`, { selector: "team = draughting and region = fjord-1", fleetId: null });
  const { lines, projected } = body as { lines: unknown[]; projected: { cards: { perLevel: unknown }[]; lines: unknown[] } };
  expect(lines).toHaveLength(28);
  expect(projected.lines).toHaveLength(28);
  expect(projected.cards[0]?.perLevel).toMatch(/^\d+$/);
  expect(JSON.stringify(body)).not.toContain("demo-key");
  for (const path of ["/", "/setup", "/fleets/1"]) expect(await (await fetch(demo.url + path)).text()).not.toContain("demo-key");
});

test("the strip answers with 48 hours, and Burn by its address", async () => {
  expect((await get<{ micros: number[] }>(`${demo.url}/api/strip`)).micros).toHaveLength(48);
  const { lines } = await get<{ lines: { kind: string }[] }>(`${demo.url}/api/burn?group=account&limit=3`);
  expect(lines.map(({ kind }) => kind)).toEqual(["group", "group", "group"]);
});

test("a schedule is a calendar that programs can subscribe to, and one that does not exist is a 404", async () => {
  const feed = await fetch(`${demo.url}/api/schedules/desks-santiago.ics`);
  expect(feed.headers.get("content-type")).toBe("text/calendar; charset=utf-8");
  const text = await feed.text();
  expect(text.startsWith("BEGIN:VCALENDAR\r\nVERSION:2.0\r\n")).toBe(true);
  expect(text).toContain("SUMMARY:desks-santiago: on");
  expect((await fetch(`${demo.url}/api/schedules/nothing.ics`)).status).toBe(404);
});

test("the plan is a file to keep, in YAML and in JSON", async () => {
  const yaml = await fetch(`${demo.url}/api/plan`);
  expect(yaml.headers.get("content-disposition")).toContain("umbrik-plan.yaml");
  expect(await yaml.text()).toMatch(/^umbrik: 1\ncurrency: EUR\ncalendars:/);
  expect((await fetch(`${demo.url}/api/plan?format=json`)).headers.get("content-type")).toBe("application/json");
});

test("a hold, a calendar or a holiday file that cannot be is refused with the field, and changes nothing", async () => {
  const hold = (body: object) =>
    post(`${demo.url}/api/holds`, { on: { fleet: "archive-index" }, level: 1, until: null, reason: "x", ...body });
  expect(await hold({ level: -1 })).toMatchObject({ status: 422, body: { fields: [{ path: "level" }] } });
  expect(await hold({ reason: " " })).toMatchObject({ status: 422, body: { fields: [{ path: "reason" }] } });
  expect(await hold({ on: {} })).toMatchObject({ status: 422 });
  const calendar = { name: "oslo", rest: ["sat"], holidays: ["2027-04-05..2027-04-01"] };
  expect(await post(`${demo.url}/api/calendars/preview`, { calendar })).toMatchObject({
    status: 422,
    body: { detail: expect.stringContaining("runs backwards") },
  });
  expect(await post(`${demo.url}/api/calendars/ics`, { text: "x", zone: "Europe/Olso" })).toMatchObject({ status: 422 });
  expect(await post(`${demo.url}/api/calendars/ics`, { text: "x".repeat(10_000_000), zone: "UTC" })).toMatchObject({
    status: 413,
  });
  expect(await get(`${demo.url}/api/countries/XX`)).toMatchObject({ ok: false, message: 'there is no list for "XX"' });
  const removed = await fetch(`${demo.url}/api/holds/999`, {
    method: "DELETE",
    body: "{}",
    headers: { "content-type": "application/json" },
  });
  expect(await removed.json()).toMatchObject({ code: "not_found", detail: "That hold has ended already." });
});

test("a link to a machine from before its id said the account leads on, with its instant", async () => {
  const { lines } = await get<{ lines: { id: string }[] }>(`${demo.url}/api/burn?filter=archive-index-01`);
  const id = lines[0]?.id ?? "";
  const own = id.slice(id.indexOf(":") + 1);
  const old = await fetch(`${demo.url}/machines/${own}?at=2027-03-10T12:00:00Z`);
  expect(old.status).toBe(200);
  expect(decodeURIComponent(new URL(old.url).pathname)).toBe(`/machines/${id}`);
  expect(new URL(old.url).searchParams.get("at")).toBe("2027-03-10T12:00:00Z");
  expect(await old.text()).toContain("archive-index-01");
  expect((await fetch(`${demo.url}/machines/none-such`)).status).toBe(404);
});
