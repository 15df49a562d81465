import { request } from "node:http";
import { afterAll, beforeAll, expect, test } from "vitest";
import { type OwnDemo, startOwnDemo } from "../support/own-demo";
import { within } from "../support/patience";

/** What nobody means and somebody sends: refused clearly or shown harmlessly, and never a 500. */
let demo: OwnDemo;
beforeAll(async () => {
  demo = await startOwnDemo();
});
afterAll(() => demo?.close());

type Answer = Readonly<{ status: number; headers: Record<string, string | string[] | undefined>; text: string }>;

/** A request with just these bytes for a path and these headers; what is sent need not be well-formed. */
function raw(method: string, path: string, headers: Record<string, string> = {}, body = ""): Promise<Answer> {
  const { hostname, port } = new URL(demo.url);
  return new Promise((resolve, reject) => {
    const sent = request({ hostname, port, method, path, headers }, (response) => {
      let text = "";
      response.on("data", (part) => {
        text += part;
      });
      response.on("end", () => resolve({ status: response.statusCode ?? 0, headers: response.headers, text }));
    });
    sent.on("error", reject);
    sent.end(body);
  });
}
const json = (method: string, path: string, body: unknown) =>
  raw(method, path, { "content-type": "application/json" }, typeof body === "string" ? body : JSON.stringify(body));

const ODD = [
  "a\u0000b",
  "\ud800",
  "'; drop table resource; --",
  "<script>alert(1)</script>",
  "=1+1",
  "../../etc/passwd",
  "%00",
  "\u202eabc",
  "x".repeat(100_000),
  "__proto__",
  "constructor",
  "😀",
];

test("a host that is not ours is refused: a page elsewhere cannot point its name here", async () => {
  for (const path of ["/", "/api/burn", "/api/plan", "/metrics"]) {
    const { status, text } = await raw("GET", path, { host: "evil.example" });
    expect(status, path).toBe(421);
    expect(text).toContain("not known under that name");
  }
  expect((await raw("POST", "/api/usage/imports", { host: "evil.example", "content-type": "text/csv" }, "a,b\n")).status).toBe(
    422,
  );
});

test("a verb that no request here can have is refused by its name", async () => {
  for (const method of ["TRACE", "PROPFIND", "LINK"]) {
    const { status, headers, text } = await raw(method, "/");
    expect(status, method).toBe(405);
    expect(headers.allow).toContain("GET");
    expect(text).toContain(method);
  }
});

test("every page says what it may load, that it is not to be framed, guessed at or named to others", async () => {
  for (const path of ["/", "/fleets", "/rounds", "/reports", "/setup"]) {
    const { headers, text } = await raw("GET", path);
    const nonce = /'nonce-([^']+)'/.exec(String(headers["content-security-policy"]))?.[1];
    expect(nonce, path).toBeTruthy();
    // No script of the page is without it.
    for (const [, attributes] of text.matchAll(/<script([^>]*)>/g)) expect(attributes).toContain(`nonce="${nonce}"`);
    expect(headers).toMatchObject({
      "x-frame-options": "DENY",
      "x-content-type-options": "nosniff",
      "referrer-policy": "same-origin",
    });
    expect(headers["x-powered-by"]).toBeUndefined();
  }
});

test("addresses that cannot be read, or name nothing, are no fault of the server", async () => {
  const paths = [
    "/%E0%A4%A",
    "/machines/%00",
    "/machines/%E0%A4%A",
    "/machines/%ff/cost",
    "/calendars/%00",
    "/rounds/99999999999999",
    "/rounds/-1",
    "/rounds?before=1e9&at=never&search=%00",
    "/?filter=%00&group=__proto__&sort=constructor&at=9999-99-99",
    "/?filter=((((((((((&open=,,,,&limit=-5",
    "/usage/0",
    "/reports/mails/abc",
    "/api/machines/%00/stop",
    "/api/schedules/%E0%A4%A.ics",
    "/api/countries/%2e%2e%2f",
    "/api/burn?offset=99999999999&limit=NaN",
    "/api/strip?at=x",
    "/api/rounds/csv?search=%25&outcome=x",
    `/?filter=${"(".repeat(3000)}`,
  ];
  for (const path of paths) {
    const { status } = await raw("GET", path);
    expect(status, path).toBeLessThan(500);
  }
});

test("odd words in every field are refused with a reason or kept as they are, never a 500", async () => {
  for (const odd of ODD) {
    const asked: [string, string, unknown][] = [
      ["POST", "/api/fleets", { name: odd.slice(0, 300), select: odd }],
      ["POST", "/api/basis", { selector: odd, fleetId: null }],
      ["POST", "/api/holds", { on: { resourceId: odd }, level: 1, until: null, reason: odd }],
      ["POST", "/api/holds", { on: { fleet: odd }, level: 1, until: 9e15, reason: odd }],
      ["POST", "/api/pauses", { account: odd, reason: odd }],
      ["POST", "/api/doubts", { account: odd, since: 5 }],
      ["POST", "/api/webhooks", { url: odd }],
      ["POST", "/api/calendars/ics", { text: odd, zone: "UTC" }],
      ["POST", "/api/calendars/preview", { calendar: { name: odd, rest: ["sat"], holidays: [odd] } }],
      ["POST", "/api/plan/preview", { text: odd }],
      ["POST", "/api/rounds", { mode: "act", fleet: odd }],
      ["POST", "/api/rounds", { mode: "rehearse", at: 9e15 }],
      ["POST", "/api/rounds", { mode: "rehearse", at: -1 }],
      ["POST", "/api/rounds/held", { round: 1, stops: 1, answer: "yes" }],
      ["POST", "/api/rounds/held", { round: 1, stops: 1, answer: "no" }],
      ["POST", "/api/commitments", { provider: odd, account: odd }],
      ["POST", `/api/machines/${encodeURIComponent(odd.toWellFormed().slice(0, 2000))}/stop`, { why: odd }],
    ];
    for (const [method, path, body] of asked) {
      const { status, text } = await json(method, path, body);
      expect(status, `${method} ${path} ${JSON.stringify(odd).slice(0, 40)}`).toBeLessThan(500);
      if (status >= 400) expect(JSON.parse(text).detail.length, path).toBeGreaterThan(0);
    }
  }
  const page = await raw("GET", "/fleets");
  expect(page.text).not.toContain("<script>alert(1)");
});

const event = (rule: string, start = "20270101") =>
  `BEGIN:VCALENDAR\r\nVERSION:2.0\r\nBEGIN:VEVENT\r\nUID:a\r\nDTSTART;VALUE=DATE:${start}\r\nSUMMARY:odd\r\n${rule}\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n`;
const ODD_FILES = [
  event("RRULE:FREQ=SECONDLY;COUNT=1000000000"),
  event("RRULE:FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30"),
  event("RRULE:FREQ=DAILY;INTERVAL=0"),
  event("RRULE:FREQ=NEVER"),
  event("", "99999999"),
  event("").repeat(2000),
  "BEGIN:VCALENDAR\r\n".repeat(5000),
  `BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nSUMMARY:${"x".repeat(500_000)}`,
  `a,b\n${'"'.repeat(99_999)}`,
  `${"a,".repeat(20_000)}\n1`,
  "provider,region,compute\nnorrhav,fjord-1,1e400\nnorrhav,fjord-1,=1+1\n",
  "\u0000,\ud800\n\u0000,1\n",
];

test("odd calendars and tables are refused with a reason, soon, and never a 500", async () => {
  for (const text of ODD_FILES) {
    for (const [path, body] of [
      ["/api/calendars/ics", { text, zone: "UTC" }],
      ["/api/prices/csv", { text }],
      ["/api/commitments/csv", { text }],
      ["/api/plan/preview", { text }],
    ] as const) {
      const begin = performance.now();
      const { status } = await json("POST", path, body);
      const what = `${path} ${JSON.stringify(text).slice(0, 60)}`;
      expect(status, what).toBeLessThan(500);
      expect(performance.now() - begin, what).toBeLessThan(within(5));
    }
    const { status } = await raw("POST", "/api/usage/imports?name=odd.csv", { "content-type": "text/csv" }, text);
    expect(status, `an import of ${JSON.stringify(text).slice(0, 60)}`).toBeLessThan(500);
  }
});

test("bodies that are too large, too deep or none are refused before they are held", async () => {
  for (const body of [
    "",
    "null",
    "[]",
    "{",
    '{"__proto__": 1}',
    "[".repeat(100_000),
    `"${"x".repeat(1_200_000)}"`,
    "NaN",
    "1e999",
  ]) {
    const { status } = await json("POST", "/api/fleets", body);
    expect(status, body.slice(0, 20)).toBe(422);
  }
  expect((await json("POST", "/api/fleets", `"${"x".repeat(7_000_000)}"`)).status).toBe(413);
  const plan = await json("POST", "/api/plan/preview", { text: `umbrik: 1\nschedules: ${"[".repeat(100_000)}` });
  expect(plan.status).toBe(422);
  expect(plan.text).toContain("at most 60 deep");
});

test(
  "a plan file that takes seconds to check keeps nobody else waiting, and a long one that is right is taken",
  async () => {
    const many = Array.from({ length: 15 }, () => `[${"{},".repeat(5_000)}]`).join(", ");
    const check = json("POST", "/api/plan/preview", {
      text: `umbrik: 1\nschedules: [${"{},".repeat(5_000)}]\nother: [${many}]`,
    });
    let isChecked = false;
    const answered = check.then(() => {
      isChecked = true;
    });
    let slowest = 0;
    let asked = 0;
    const started = performance.now();
    while (!isChecked) {
      const begin = performance.now();
      expect((await raw("GET", "/api/health")).status).toBe(200);
      slowest = Math.max(slowest, performance.now() - begin);
      asked++;
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
    await answered;
    expect(asked).toBeGreaterThan(8);
    // Where it kept others waiting they would wait for nearly all of it, however busy the machine is.
    expect(slowest).toBeLessThan(Math.max(1_000, (performance.now() - started) / 4));
    const { status, text } = await check;
    expect(status).toBe(422);
    expect(text).toContain("more like these");
    const long = Array.from({ length: 400 }, (_, i) => `  - { name: long-${i}, zone: UTC, rows: [{ day: daily, off: true }] }`);
    const right = await json("POST", "/api/plan/preview", { text: `umbrik: 1\nschedules:\n${long.join("\n")}\n` });
    expect(right.status, right.text.slice(0, 300)).toBe(200);
    expect(JSON.parse(right.text).added).toHaveLength(400);
  },
  within(30),
);

test("other methods, types and origins change nothing", async () => {
  for (const [method, path] of [
    ["PUT", "/api/fleets"],
    ["DELETE", "/api/rounds"],
    ["PATCH", "/"],
  ] as const) {
    const { status } = await raw(method, path).catch(() => ({ status: 405 }));
    expect(status, `${method} ${path}`).toBeLessThan(500);
  }
  const elsewhere = await raw(
    "POST",
    "/api/pauses",
    { "content-type": "application/json", origin: "null" },
    JSON.stringify({ reason: "x" }),
  );
  expect(elsewhere.status).toBe(422);
  expect((await raw("GET", "/api/pauses")).text).toBe("[]");
});
