import PostalMime from "postal-mime";
import { afterAll, beforeAll, expect, test } from "vitest";
import { type OwnDemo, startOwnDemo } from "../support/own-demo";
import { until } from "../support/patience";
import { get, post } from "../support/world";

let demo: OwnDemo;
beforeAll(async () => {
  demo = await startOwnDemo();
  await post(`${demo.url}/api/clock`, { kind: "rate", rate: 0 });
  await until(async () => (await get<{ all: { count: number } }>(`${demo.url}/api/burn`)).all.count > 100);
});
afterAll(() => demo?.close());

const send = async (method: string, path: string, body: unknown, headers: Record<string, string> = {}) => {
  const response = await fetch(demo.url + path, {
    method,
    body: JSON.stringify(body),
    headers: { "content-type": "application/json", ...headers },
  });
  return { status: response.status, body: (await response.json().catch(() => null)) as { detail?: string } | null };
};

const CHANGES: readonly (readonly [method: string, path: string, body: unknown])[] = [
  ["POST", "/api/strays/acknowledged", { key: "x", untilDay: "2027-04-01", reason: "x" }],
  ["PUT", "/api/strays/ages", { imageDays: 3, runDays: 3 }],
  ["POST", "/api/machines/x/stop", { why: "x" }],
  ["POST", "/api/prices", { key: "x", rate: "1", fromDay: "2027-03-01" }],
  ["POST", "/api/prices/csv", { text: "x" }],
  ["POST", "/api/commitments", {}],
  ["POST", "/api/commitments/csv", { text: "x" }],
  ["DELETE", "/api/commitments/1", {}],
  ["POST", "/api/reports", { version: 0, draft: {} }],
  ["PUT", "/api/reports/1", { version: 1, draft: {} }],
  ["DELETE", "/api/reports/1", {}],
  ["POST", "/api/reports/1/send", { recipientId: null }],
  ["POST", "/api/reports/1/recipients", { address: "a@b.example", scope: "" }],
  ["DELETE", "/api/recipients/1", {}],
  ["POST", "/api/mails/1/retry", {}],
];

test.each(CHANGES)(
  "%s %s is refused to a page of another site, and to a body with what it does not know",
  async (method, path, body) => {
    const elsewhere = await send(method, path, body, { origin: "http://evil.example" });
    expect(elsewhere).toMatchObject({ status: 422, body: { detail: "Requests from other sites are refused." } });
    const strange = await send(method, path, { ...(body as object), strange: 1 });
    expect(strange.status).toBe(422);
    expect(JSON.stringify(strange.body), "what is not known is named").toContain("strange");
  },
);

test.each([
  ["POST", "/api/machines/nobody/stop", { why: "x" }, 404],
  ["POST", "/api/strays/acknowledged", { key: "nobody", untilDay: "2027-04-01", reason: "x" }, 404],
  ["DELETE", "/api/commitments/99999", {}, 404],
  ["DELETE", "/api/recipients/99999", {}, 404],
  ["DELETE", "/api/reports/99999", {}, 404],
  ["POST", "/api/reports/99999/send", { recipientId: null }, 404],
  ["POST", "/api/mails/99999/retry", {}, 422],
  ["DELETE", "/api/usage/imports/99999", {}, 404],
] as const)("%s %s about nothing that is there says so", async (method, path, body, status) => {
  const answer = await send(method, path, body);
  expect(answer.status).toBe(status);
  expect(answer.body?.detail).toBeTruthy();
});

test("a report with a zone, a minute or days that are none is refused whole", async () => {
  const draft = { name: "x", zone: "Europe/Oslo", minute: 60, days: ["mon"], isOn: true };
  for (const change of [{ zone: "Oslo" }, { minute: 1440 }, { minute: 1.5 }, { days: ["someday"] }, { name: " " }]) {
    const answer = await send("POST", "/api/reports", { version: 0, draft: { ...draft, ...change } });
    const [field] = Object.keys(change);
    expect(JSON.stringify(answer.body), JSON.stringify(change)).toContain(field);
    expect(answer.status).toBe(422);
  }
  expect((await send("POST", "/api/reports", { version: 0, draft })).status).toBe(200);
  expect((await send("PUT", "/api/reports/2", { version: 7, draft })).status, "an old version").toBe(409);
});

test("files come as files, with a name and a type; a span that is none is an answer that says why", async () => {
  for (const [path, name] of [
    ["/api/burn/csv?filter=sonar", "umbrik-burn-"],
    ["/api/prices/csv", "umbrik-prices-"],
    ["/api/usage/export?from=2027-03-09&to=2027-03-10", "focus-2027-03-09-2027-03-10.csv"],
  ] as const) {
    const response = await fetch(demo.url + path);
    expect(response.status, path).toBe(200);
    expect(response.headers.get("content-type")).toContain("text/csv");
    expect(response.headers.get("content-disposition")).toContain(name);
    expect((await response.text()).split("\r\n").length).toBeGreaterThan(1);
  }
  const none = await (await fetch(`${demo.url}/api/usage/export?from=x&to=y`)).json();
  expect(none).toMatchObject({ detail: expect.stringContaining("From x to y: expected two dates") });
  expect(
    (await fetch(`${demo.url}/usage?from=2027-03-10&to=2027-03-01`)).status,
    "the page says it and shows the last week",
  ).toBe(200);
});

const HEADER = "BillingCurrency,BilledCost,ChargeCategory,ChargePeriodStart,ChargePeriodEnd,ResourceId";
const upload = (text: string, headers: Record<string, string> = {}) =>
  fetch(`${demo.url}/api/usage/imports`, {
    method: "POST",
    body: text,
    headers: { "content-type": "text/csv", "x-file-name": encodeURIComponent("März bill.csv"), ...headers },
  });

test("a file sent to the application is read by the worker; one that is no CSV, or comes from elsewhere, is not taken", async () => {
  expect((await upload("x", { "content-type": "text/plain" })).status).toBe(422);
  expect((await upload("x", { origin: "http://evil.example" })).status).toBe(422);
  expect((await upload("")).status).toBe(422);
  const lines = Array.from({ length: 2000 }, (_, i) => `EUR,0.5,Usage,2027-03-09T00:00:00Z,2027-03-10T00:00:00Z,r-${i}`);
  const { id } = (await (await upload([HEADER, ...lines].join("\n"))).json()) as { id: number };
  type One = { one: { status: string; fileName: string; linesTaken: number; billed: string } };
  await until(async () => (await get<One>(`${demo.url}/api/usage/imports/${id}`)).one.status === "done");
  const { one } = await get<One>(`${demo.url}/api/usage/imports/${id}`);
  expect(one).toMatchObject({ fileName: "März bill.csv", linesTaken: 2000, billed: "1000" });
  expect((await send("DELETE", `/api/usage/imports/${id}`, {})).status).toBe(200);
  await until(async () => (await get<One>(`${demo.url}/api/usage/imports/${id}`)).one.status === "taken back");
});

test("a reader's mail program unsubscribes them by one press, without an origin or a session (RFC 8058)", async () => {
  await send("POST", "/api/reports/1/recipients", { address: "k.lomvi@skerrywick.example", scope: "" });
  const mails = async () => (await get<{ mails: { name: string }[] }>(`${demo.standinUrl}/mail`)).mails;
  await until(async () => (await mails()).length > 0);
  const mailOf = async () =>
    PostalMime.parse(await (await fetch(`${demo.standinUrl}/mail/${(await mails())[0]?.name}`)).arrayBuffer());
  const token = /mail\/confirm\?token=([\w.-]+)/.exec((await mailOf()).text ?? "")?.[1] ?? "";
  const confirm = await fetch(`${demo.url}/api/mail/confirm?token=${token}`, { method: "POST" });
  expect(await confirm.json()).toMatchObject({ ok: true, address: "k.lomvi@skerrywick.example" });
  expect((await send("POST", "/api/reports/1/send", { recipientId: null })).body).toEqual({ mails: 1 });
  await until(async () => (await mails()).length > 1);
  const { headers } = await mailOf();
  expect(headers.find(({ key }) => key === "auto-submitted")?.value).toBe("auto-generated");
  const header = headers.find(({ key }) => key === "list-unsubscribe")?.value.replace(/[<>]/g, "") ?? "";
  const press = await fetch(header, {
    method: "POST",
    body: "List-Unsubscribe=One-Click",
    headers: { "content-type": "application/x-www-form-urlencoded" },
  });
  expect(await press.json()).toMatchObject({ ok: true });
  expect((await send("POST", "/api/reports/1/send", { recipientId: null })).status).toBe(422);
  expect((await fetch(`${demo.standinUrl}/mail/..%2Fworld.json`)).status, "the sink gives out mails and nothing else").toBe(404);
});

test("every place of money is a page, now and as of another instant", async () => {
  for (const path of [
    "/strays",
    "/reports",
    "/reports/mails",
    "/reports/realised",
    "/usage",
    "/prices",
    "/?group=tag:payer&sort=month",
  ]) {
    for (const at of ["", "2027-03-01T12:00:00Z", "2027-03-28T00:30:00Z", "not a time"]) {
      const url = `${demo.url}${path}${path.includes("?") ? "&" : "?"}at=${encodeURIComponent(at)}`;
      expect((await fetch(url)).status, url).toBe(200);
    }
  }
});
