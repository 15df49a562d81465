import { afterAll, beforeAll, expect, test } from "vitest";
import { type App, startApp } from "../support/app";

/** Where metrics come from, set up in the browser; and a fleet whose machines are shared. */
let app: App;
beforeAll(async () => {
  app = await startApp();
});
afterAll(() => app?.close());

const attribute = (host: string) => ({ attributes: [{ key: "host.name", value: { stringValue: host } }] });
const gauge = (host: string) => ({
  resource: attribute(host),
  scopeMetrics: [{ metrics: [{ name: "cpu", gauge: { dataPoints: [{ timeUnixNano: `${Date.now()}000000`, asDouble: 7 }] } }] }],
});
const push = (key: string, ...hosts: string[]) =>
  fetch(`${app.url}/v1/metrics`, {
    method: "POST",
    headers: { authorization: `Bearer ${key}`, "content-type": "application/json" },
    body: JSON.stringify({ resourceMetrics: hosts.map(gauge) }),
  });

test("a key is made and shown once, what it pushes is seen without a reload, and whom it names not is listed", async () => {
  const { browser } = app;
  await browser.open("/setup");
  await (await browser.at("//a[.='Sources of metrics']")).click();
  await browser.sees("Metrics come from the providers alone.");
  await (await browser.button("New key for OTLP")).click();
  await (await browser.button("Make a key")).click();
  await browser.sees("a name is needed");
  await browser.type("Name", "agents");
  await (await browser.button("Make a key")).click();
  const seen = await browser.sees(/Bearer%20umk_\S+/);
  const key = /Bearer%20(umk_\S+)/.exec(seen)?.[1] ?? "";
  await browser.sees("no sample yet");
  expect((await push(key, "desk-osl-01", "desk-osl-02", "desk-ols-03")).status).toBe(200);
  await browser.sees("2 machines named, 1 not");
  await (await browser.at("//summary[contains(., 'Hosts that name no machine')]")).click();
  await browser.sees(/desk-ols-03 names no machine; nearly desk-osl-03/);
  await browser.open("/strays");
  await browser.sees("1 source of metrics names no machine");
  await browser.sees(/desk-ols-03 names no machine; nearly desk-osl-03/);
  await browser.open("/sources");
  await (await browser.button("Change")).click();
  await (await browser.button("Try it on the hosts so far")).click();
  await browser.sees(/2 of 3 hosts name a machine\. Their attributes: host\.name/);
  await (await browser.button("Pause")).click();
  await browser.sees("‖ paused");
  expect((await push(key, "desk-osl-01")).status).toBe(403);
  await (await browser.button("Go on")).click();
  await (await browser.at("//li[@aria-label='agents']//button[.='New key'][not(@disabled)]")).click();
  await browser.sees("the old one opens nothing any more");
  expect((await push(key, "desk-osl-01")).status).toBe(401);
});

test("a Prometheus that does not answer says so where it is tried, and nothing typed is lost", async () => {
  const { browser } = app;
  await browser.open("/sources");
  await (await browser.button("New Prometheus")).click();
  await browser.type("Name", "house");
  await browser.type("Address of the Prometheus", "http://127.0.0.1:1");
  await browser.type("PromQL", "up");
  await (await browser.button("Try it")).click();
  await browser.sees(/no Prometheus answers there|no answer within/);
  await browser.type("PromQL", "");
  await (await browser.button("Ask this Prometheus")).click();
  await browser.sees("PromQL of 1 to 4000 characters");
  expect(await (await browser.field("Address of the Prometheus")).getAttribute("value")).toBe("http://127.0.0.1:1");
  await browser.type("PromQL", "up");
  await (await browser.button("Ask this Prometheus")).click();
  await browser.sees(/cpu by instance, which holds the machine's name/);
});

test("a fleet is said to be shared in a sentence, with its spare machines, and nothing of it acts before it is in force", async () => {
  const { browser } = app;
  await browser.open("/fleets/4");
  await browser.sees("each has its own machine");
  await (await browser.at("//summary[contains(., 'Ready')] | //button[contains(., 'Ready')]")).click();
  await browser.choose("Machines", "share them: any will do for anyone");
  await browser.type("Spare machines", "3");
  await browser.sees(/shared, 3 spare, disconnected 30 min/);
  // Before it acts on anything it is seen who would have waited.
  await browser.sees(/So (nobody|somebody) would have waited/);
  // How many are spare may be a week of its own, too.
  await browser.choose("Spare by", "what desks-auckland says,");
  await browser.sees(/shared, desks-auckland spare/);
  await browser.choose("Spare by", "always");
  await browser.type("Spare machines", "2");
  await browser.sees(/shared, 2 spare/);
});

test("a pool is put in force, and shows who waited in its weeks and what more spare machines would cost", async () => {
  const { browser } = app;
  await browser.sees("draft kept");
  await (await browser.button("Put in force")).click();
  await browser.sees(/First round: /, "[data-testid=effects]");
  await browser.type("Why", "any desk will do");
  await (await browser.at("//*[@role='dialog']//button[starts-with(., 'Put in force')][not(@disabled)]")).click();
  await browser.sees("In force. The next round goes by it");
  await browser.sees("Spare machines, tried on the weeks before");
  await browser.sees(/So (nobody|somebody) would have waited/);
  await (await browser.at("//button[starts-with(@aria-label, 'Keep 5 spare')]")).click();
  await browser.sees(/shared, 5 spare/);
  await browser.sees("its people: shared, 2 spare", "aside");
});
