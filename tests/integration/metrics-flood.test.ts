import { gzipSync } from "node:zlib";
import { afterAll, beforeAll, expect, test } from "vitest";
import { DEMO_ACTOR, keepHouse, WORKER } from "@/services/admin";
import { knownMetrics } from "@/services/idle";
import { makeSource, metricSources } from "@/services/metrics";
import { runRound } from "@/services/rounds";
import { attribute, bodyOf, emptyPoints, gauge, pushTo, samplesTold, serveOtlp } from "../support/otlp";
import { within } from "../support/patience";
import { type Here, startHere } from "../support/weeks/standin-here";

/** Pushes that hold far too much of something: they are bounded, the reason is said, and nobody else waits. */
const NAMING = { attribute: "host.name", names: "name", tag: null, account: null, domain: null } as const;
let here: Here;
let door: Awaited<ReturnType<typeof serveOtlp>>;
let key: string;
beforeAll(async () => {
  here = await startHere(Date.UTC(2027, 2, 16, 9) / 1000, ["skerry-desks"]);
  await runRound(here.services, WORKER, "act");
  door = await serveOtlp(here.services);
  const made = await makeSource(here.services, DEMO_ACTOR, { name: "desks", url: null, queries: [], naming: NAMING, stepS: 60 });
  key = made.key ?? "";
}, within(60));
afterAll(async () => {
  await door?.close();
  await here?.close();
});

const samplesOf = (name: string, metric: string) => samplesTold(here, name, metric);
const post = (body: Buffer | string, headers: Record<string, string> = {}) => pushTo({ url: door.url, key }, body, headers);
const gaugeOf = (host: string, metric: string, value: number, at = here.keeper.now(), more: object[] = []) =>
  gauge({ host, metric, value, at, more });

test(
  "a hundred thousand strangers keep nobody waiting, the newest are listed, and a mistake made after them is seen",
  async () => {
    const { services } = here;
    const strangers = Array.from({ length: 100_000 }, (_, i) => gaugeOf(`host-${i}`, "cpu", 7));
    const began = performance.now();
    const answer = await post(gzipSync(bodyOf(...strangers, gaugeOf("desk-osl-08", "cpu", 11))), { "content-encoding": "gzip" });
    const took = performance.now() - began;
    expect(answer.status).toBe(200);
    expect((await answer.json()).partialSuccess).toEqual({
      rejectedDataPoints: "100000",
      errorMessage: "100000 x host names no machine; more than 10000 hosts name no machine: the newest are listed",
    });
    expect(await samplesOf("desk-osl-08", "cpu")).toEqual([11]);
    // Each held to each name took 236 s.
    expect(took).toBeLessThan(within(20));
    here.keeper.stepTo(here.keeper.now() + 60);
    await post(bodyOf(gaugeOf("desk-osl-9", "cpu", 7)));
    const [source] = await metricSources(services, DEMO_ACTOR);
    expect(source?.unmatched).toBe(10_000);
    expect(source?.strangers[0]).toMatchObject({ identity: "desk-osl-9", nearly: "desk-osl-09" });
  },
  within(60),
);

test(
  "names of metrics without number are refused with the reason, and pages list what they can",
  async () => {
    const { services } = here;
    const many = (host: string, from: number, count: number) => ({
      resource: { attributes: [attribute("host.name", host)] },
      scopeMetrics: [
        {
          metrics: Array.from({ length: count }, (_, i) => ({
            name: `odd.${String(from + i).padStart(5, "0")}`,
            gauge: { dataPoints: [{ timeUnixNano: `${here.keeper.now()}000000000`, asDouble: 1 }] },
          })),
        },
      ],
    });
    const first = await (await post(bodyOf(many("desk-osl-01", 0, 12_000)))).json();
    expect(first.partialSuccess.errorMessage).toMatch(/^118\d\d x a metric beyond the 200 that a machine may have$/);
    let refused = "";
    for (let i = 1; i < 8; i++)
      refused = (await (await post(bodyOf(many(`desk-osl-1${i}`, i * 190, 190)))).json()).partialSuccess?.errorMessage ?? "";
    expect(refused).toMatch(/x a metric beyond the 1000 that a source may name$/);
    // What is known already is taken as before.
    expect((await (await post(bodyOf(gaugeOf("desk-osl-18", "odd.00001", 1)))).json()).partialSuccess).toBeUndefined();
    // Ten thousand that are there from before: the page has some, and finds the others.
    await services.pool.query("insert into metric_name (name) select 'older.' || i from generate_series(1, 12000) as i");
    const listed = await knownMetrics(services, DEMO_ACTOR);
    expect(listed.names).toHaveLength(200);
    expect(listed.of).toBeGreaterThan(12_000);
    expect((await knownMetrics(services, DEMO_ACTOR, "older.11999")).names).toEqual(["older.11999"]);
    await services.pool.query("update metric_name set last_at = last_at - interval '40 days' where name like 'odd.%'");
    await keepHouse(services, WORKER);
    expect((await knownMetrics(services, DEMO_ACTOR, "odd.")).names).toEqual([]);
  },
  within(60),
);

test(
  "sixty kilobytes that hold thirty million empty points are refused while they are read, and others are answered meanwhile",
  async () => {
    const body = gzipSync(emptyPoints(30_000_000));
    expect(body.length).toBeLessThan(70_000);
    const before = process.memoryUsage().rss;
    const answer = await post(body, { "content-type": "application/x-protobuf", "content-encoding": "gzip" });
    expect(answer.status).toBe(413);
    expect(process.memoryUsage().rss - before).toBeLessThan(800_000_000);
    expect((await post(bodyOf(gaugeOf("desk-osl-08", "cpu", 12)))).status).toBe(200);
  },
  within(60),
);
