import { gzipSync } from "node:zlib";
import { OTLPMetricExporter as JsonExporter } from "@opentelemetry/exporter-metrics-otlp-http";
import { OTLPMetricExporter as ProtoExporter } from "@opentelemetry/exporter-metrics-otlp-proto";
import { resourceFromAttributes } from "@opentelemetry/resources";
import { AggregationTemporality, MeterProvider, PeriodicExportingMetricReader } from "@opentelemetry/sdk-metrics";
import { afterAll, beforeAll, expect, test } from "vitest";
import { DEMO_ACTOR, WORKER } from "@/services/admin";
import { dropSource, editSource, makeSource, metricSources, pauseSource, renewKey, tryNaming } from "@/services/metrics";
import { runRound } from "@/services/rounds";
import { attribute, bodyOf, gauge, pushTo, samplesTold, serveOtlp } from "../support/otlp";
import { within } from "../support/patience";
import { type Here, startHere } from "../support/weeks/standin-here";

/** Real clients of the open protocol push; what they send is found on the machines, and what cannot be taken is said. */
const NAMING = { attribute: "host.name", names: "name", tag: null, account: null, domain: null } as const;
let here: Here;
let door: Awaited<ReturnType<typeof serveOtlp>>;
let id: number;
let key: string;
beforeAll(async () => {
  here = await startHere(Date.UTC(2027, 2, 16, 9) / 1000, ["skerry-desks"]);
  await runRound(here.services, WORKER, "act");
  door = await serveOtlp(here.services);
  const made = await makeSource(here.services, DEMO_ACTOR, { name: "desks", url: null, queries: [], naming: NAMING, stepS: 60 });
  id = made.id;
  key = made.key ?? "";
}, within(60));
afterAll(async () => {
  await door?.close();
  await here?.close();
});

const source = async () => (await metricSources(here.services, DEMO_ACTOR)).find((one) => one.id === id);
const samplesOf = (name: string, metric: string) => samplesTold(here, name, metric);
const post = (body: Buffer | string, headers: Record<string, string> = {}) => pushTo({ url: door.url, key }, body, headers);
const gaugeOf = (host: string, metric: string, value: number, at = here.keeper.now(), more: object[] = []) =>
  gauge({ host, metric, value, at, more });

test.each([
  ["protobuf, gzip", ProtoExporter, "gzip"],
  ["protobuf", ProtoExporter, "none"],
  ["JSON, gzip", JsonExporter, "gzip"],
])("the SDK's own exporter pushes by %s, and what it measures is found on its machine", async (_, Exporter, compression) => {
  const exporter = new Exporter({
    url: door.url,
    headers: { authorization: `Bearer ${key}` },
    compression: compression as never,
    temporalityPreference: AggregationTemporality.CUMULATIVE as never,
  });
  const reader = new PeriodicExportingMetricReader({ exporter, exportIntervalMillis: 3_600_000 });
  const name = `desk-osl-0${compression === "gzip" ? (Exporter === ProtoExporter ? 1 : 3) : 2}`;
  const provider = new MeterProvider({ resource: resourceFromAttributes({ "host.name": name }), readers: [reader] });
  const meter = provider.getMeter("host");
  meter.createObservableGauge("system.cpu.utilization").addCallback((told) => {
    told.observe(0.75, { "cpu.logical_number": 0, "cpu.mode": "idle" });
    told.observe(0.25, { "cpu.logical_number": 0, "cpu.mode": "user" });
  });
  meter.createUpDownCounter("sessions.active").add(2);
  const histogram = meter.createHistogram("render.minutes");
  histogram.record(4);
  histogram.record(8);
  await provider.forceFlush();
  expect(await samplesOf(name, "cpu")).toEqual([25]);
  expect(await samplesOf(name, "sessions.active")).toEqual([2]);
  expect(await samplesOf(name, "render.minutes")).toEqual([6]);
  await provider.shutdown();
});

test("hosts that name no machine are refused as a part, listed with whom they nearly name, and found when the rule says how", async () => {
  const { services } = here;
  const answer = await post(
    bodyOf(
      gaugeOf("desk-osl-04", "cpu", 7),
      gaugeOf("desk-osl-4", "cpu", 7),
      gaugeOf("desk-osl-05.skerrywick.example", "cpu", 9),
    ),
  );
  expect(answer.status).toBe(200);
  expect(await answer.json()).toEqual({
    partialSuccess: { rejectedDataPoints: "2", errorMessage: "2 x host names no machine" },
  });
  expect(await samplesOf("desk-osl-04", "cpu")).toEqual([7]);
  const strangers = (await source())?.strangers.map(({ identity, nearly }) => [identity, nearly]);
  expect(strangers).toEqual([
    ["desk-osl-05.skerrywick.example", "desk-osl-05"],
    ["desk-osl-4", "desk-osl-04"],
  ]);
  // The same hosts by another attribute: tried before it is kept.
  const other = await post(bodyOf(gaugeOf("somewhere", "cpu", 8, here.keeper.now(), [attribute("machine", "desk-osl-06")])));
  expect((await other.json()).partialSuccess.rejectedDataPoints).toBe("1");
  const tried = await tryNaming(services, DEMO_ACTOR, { id, naming: { ...NAMING, attribute: "machine" } });
  expect(tried.strangers.find(({ identity }) => identity === "somewhere")).toBeUndefined();
  expect(tried.attributes).toContain("machine");
  const before = await source();
  await editSource(services, DEMO_ACTOR, id, {
    name: "desks",
    url: null,
    queries: [],
    naming: { ...NAMING, attribute: "machine" },
    stepS: 60,
  });
  expect((await source())?.strangers.map(({ identity }) => identity)).not.toContain("somewhere");
  // With their domain behind: it is cut where the rule says so, and what is no domain is said.
  const behind = { ...NAMING, domain: "skerrywick.example" };
  const cut = await tryNaming(services, DEMO_ACTOR, { id, naming: behind });
  expect(cut.strangers.map(({ identity }) => identity)).not.toContain("desk-osl-05");
  const setting = { name: "desks", url: null, queries: [], naming: behind, stepS: 60 };
  await expect(editSource(services, DEMO_ACTOR, id, { ...setting, naming: { ...behind, domain: "no domain" } })).rejects.toThrow(
    "a domain such as",
  );
  await editSource(services, DEMO_ACTOR, id, { ...setting, naming: { ...behind, domain: " .skerrywick.example " } });
  expect((await source())?.naming.domain).toBe("skerrywick.example");
  await post(bodyOf(gaugeOf("desk-osl-05.skerrywick.example", "cpu", 9)));
  expect(await samplesOf("desk-osl-05", "cpu")).toEqual([9]);
  await editSource(services, DEMO_ACTOR, id, { name: "desks", url: null, queries: [], naming: NAMING, stepS: 60 });
  expect((await source())?.matched).toBe(before?.matched);
});

test("counts become rates over pushes, in any order and however often; the provider is not believed beside it", async () => {
  const t = here.keeper.now();
  const count = (value: number, at: number) => ({
    resource: { attributes: [attribute("host.name", "desk-osl-07")] },
    scopeMetrics: [
      {
        metrics: [
          {
            name: "system.disk.operations",
            sum: {
              isMonotonic: true,
              aggregationTemporality: 2,
              dataPoints: [{ timeUnixNano: `${at}000000000`, asInt: String(value) }],
            },
          },
        ],
      },
    ],
  });
  await post(bodyOf(count(600, t - 120)));
  await post(bodyOf(count(1_200, t - 60)));
  await post(bodyOf(count(600, t - 120)));
  await post(bodyOf(count(1_200, t - 60), count(2_400, t)));
  expect(await samplesOf("desk-osl-07", "disk.ops")).toEqual([10, 20]);
  await post(bodyOf(gaugeOf("desk-osl-08", "cpu", 99)));
  expect(await samplesOf("desk-osl-08", "cpu")).toEqual([99]);
});

test("one odd name or label among a thousand loses itself and nothing else, and is named", async () => {
  const now = here.keeper.now();
  const good = Array.from({ length: 1_000 }, (_, i) => gaugeOf("desk-osl-07", `fine.${i % 50}`, i, now - (i % 20) * 60));
  const odd = ["\0", "half \ud800", "nul\0l"].map((name) => gaugeOf("desk-osl-07", name, 1));
  const labelled = gaugeOf("desk-osl-07", "labelled", 3, now, [attribute("note\0", "x"), attribute("tone", "\udfff")]);
  const answer = await post(bodyOf(...odd, ...good, labelled));
  expect(answer.status).toBe(200);
  expect((await answer.json()).partialSuccess).toEqual({
    rejectedDataPoints: "3",
    errorMessage: "3 x a metric's name has a character that is none",
  });
  expect(await samplesOf("desk-osl-07", "labelled")).toEqual([3]);
  expect((await samplesOf("desk-osl-07", "fine.7")).length).toBeGreaterThan(0);
});

test("the scheme of a key and the type of a body are understood in any case", async () => {
  const body = bodyOf(gaugeOf("desk-osl-06", "cased", 7));
  const headers = { authorization: `bearer ${key}`, "content-type": "Application/JSON; charset=utf-8" };
  expect((await post(body, headers)).status).toBe(200);
  expect(await samplesOf("desk-osl-06", "cased")).toEqual([7]);
});

test("what cannot be understood is answered clearly, leaves nothing behind, and harms nobody else", async () => {
  const { services } = here;
  const message = async (answer: Response) => [answer.status, ((await answer.json()) as { message: string }).message];
  const fine = bodyOf(gaugeOf("desk-osl-09", "cpu", 5));
  expect(await message(await post(fine, { authorization: "Bearer umk_wrong" }))).toEqual([
    401,
    expect.stringContaining("opens nothing"),
  ]);
  expect(await message(await post(fine, { authorization: "" }))).toEqual([401, expect.stringContaining("bearer key is needed")]);
  expect(await message(await post("{ no JSON"))).toEqual([400, "the body is no ExportMetricsServiceRequest in JSON"]);
  const broken = await post(Buffer.from([0xff, 0xff, 0xff, 0x01, 0x02]), { "content-type": "application/x-protobuf" });
  expect(broken.status).toBe(400);
  expect(broken.headers.get("content-type")).toBe("application/x-protobuf");
  expect((await post("x", { "content-type": "text/plain" })).status).toBe(415);
  expect(await message(await post(gzipSync(fine).subarray(0, 20), { "content-encoding": "gzip" }))).toEqual([
    400,
    "the body is no gzip",
  ]);
  // A small body that inflates to a hundred megabytes.
  const bomb = gzipSync(Buffer.alloc(100_000_000));
  expect(bomb.length).toBeLessThan(1_000_000);
  expect(await message(await post(bomb, { "content-encoding": "gzip" }))).toEqual([
    413,
    expect.stringContaining("send less at once"),
  ]);
  const points = Array.from({ length: 1_000_000 }, () => ({ timeUnixNano: "1", asDouble: 1 }));
  const million = JSON.stringify({
    resourceMetrics: [{ scopeMetrics: [{ metrics: [{ name: "x", gauge: { dataPoints: points } }] }] }],
  });
  expect(await message(await post(gzipSync(million), { "content-encoding": "gzip" }))).toEqual([
    413,
    expect.stringContaining("more than 200000 points"),
  ]);
  const long = await post(bodyOf(gaugeOf("desk-osl-09", "cpu", 5, here.keeper.now(), [attribute("note", "x".repeat(10_000))])));
  expect((await long.json()).partialSuccess).toMatchObject({
    rejectedDataPoints: "1",
    errorMessage: expect.stringContaining("longer than 1024"),
  });
  const odd = await post(bodyOf(gaugeOf("desk-osl-09", "cpu", 5, here.keeper.now() - 3 * 86_400)));
  expect((await odd.json()).partialSuccess.errorMessage).toContain("older than two days");
  expect(await samplesOf("desk-osl-09", "cpu")).toEqual([]);
  expect((await source())?.error).toContain("older than two days");

  expect((await post(fine)).status).toBe(200);
  expect(await samplesOf("desk-osl-09", "cpu")).toEqual([5]);
  await pauseSource(services, DEMO_ACTOR, id, true);
  expect((await post(fine)).status).toBe(403);
  await pauseSource(services, DEMO_ACTOR, id, false);
  const { key: other } = await renewKey(services, DEMO_ACTOR, id);
  expect((await post(fine)).status).toBe(401);
  expect((await post(fine, { authorization: `Bearer ${other}` })).status).toBe(200);
  key = other;
  await expect(
    makeSource(services, DEMO_ACTOR, { name: "DESKS", url: null, queries: [], naming: NAMING, stepS: 60 }),
  ).rejects.toThrow("already");
});

test("a source is removed with its samples, or without; those of others stay", async () => {
  const { services } = here;
  const two = await makeSource(services, DEMO_ACTOR, { name: "two", url: null, queries: [], naming: NAMING, stepS: 60 });
  await post(bodyOf(gaugeOf("desk-osl-10", "cpu", 3)), { authorization: `Bearer ${two.key}` });
  await dropSource(services, DEMO_ACTOR, { id: two.id, keepsSamples: true });
  expect(await samplesOf("desk-osl-10", "cpu")).toEqual([3]);
  expect((await post(bodyOf(gaugeOf("desk-osl-10", "cpu", 4)), { authorization: `Bearer ${two.key}` })).status).toBe(401);
  await dropSource(services, DEMO_ACTOR, { id, keepsSamples: false });
  expect(await samplesOf("desk-osl-09", "cpu")).toEqual([]);
  expect(await samplesOf("desk-osl-10", "cpu")).toEqual([3]);
  await expect(dropSource(services, DEMO_ACTOR, { id, keepsSamples: true })).rejects.toThrow("no source");
});
