import { spawn } from "node:child_process";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, expect, test } from "vitest";
import { DEMO_ACTOR, WORKER } from "@/services/admin";
import { askHistory, makeSource, metricSources, pullLatest, readHistory, tryPull } from "@/services/metrics";
import { runRound } from "@/services/rounds";
import { metricDays, recentSamples } from "@/store";
import { NODE_EXPORTER, PROMETHEUS } from "../../bin/lib/debian.mjs";
import { freePort } from "../../bin/lib/ports.mjs";
import { samplesOver } from "../../standin/world/metrics";
import { within } from "../support/patience";
import { type Here, startHere } from "../support/weeks/standin-here";

/**
 * The real Prometheus, with its node exporter and a small one that tells the shapes of the demo, is asked by PromQL. Beside it
 * stand servers that hang, err or answer with something else.
 */
const NAMING = { attribute: "label", names: "name", tag: null, account: null, domain: null } as const;
const ends: (() => Promise<void> | void)[] = [];
let here: Here;
let url: string;
let hanging: string;
let wrong: string;
/** One that runs. */
let desk: string;

beforeAll(async () => {
  here = await startHere(Date.UTC(2027, 2, 16, 9) / 1000, ["skerry-desks"]);
  ends.push(() => here.close());
  await runRound(here.services, WORKER, "act");
  desk =
    here.keeper.world.units.find(({ name, life }) => name.startsWith("desk-osl") && life.at(-1)?.state === "running")?.name ?? "";
  const shapes = await serve((_, response) => response.end(shapesNow()));
  hanging = await serve(() => {});
  wrong = await serve((_, response) => response.end('{"status": "success", "data": 7}'));
  const node = await start(NODE_EXPORTER, (port) => [
    `--web.listen-address=127.0.0.1:${port}`,
    "--collector.disable-defaults",
    "--collector.loadavg",
  ]);
  const folder = mkdtempSync(join(tmpdir(), "umbrik-pull-"));
  ends.push(() => rmSync(folder, { recursive: true, force: true }));
  const config = join(folder, "prometheus.yml");
  writeFileSync(
    config,
    `global: { scrape_interval: 1s }
scrape_configs:
  - { job_name: shapes, honor_labels: true, static_configs: [{ targets: ["${new URL(shapes).host}"] }] }
  - { job_name: node, static_configs: [{ targets: ["127.0.0.1:${node}"], labels: { machine: ${desk} } }] }
`,
  );
  const port = await start(PROMETHEUS, (own) => [
    `--config.file=${config}`,
    `--storage.tsdb.path=${join(folder, "data")}`,
    `--web.listen-address=127.0.0.1:${own}`,
    "--log.level=error",
  ]);
  url = `http://127.0.0.1:${port}`;
}, within(60));
afterAll(async () => {
  for (const end of ends.reverse()) await end();
});

/** The processor of every desk as the demo's world has it now, and one host that is no machine. */
function shapesNow(): string {
  const { world } = here.keeper;
  const to = Math.floor(here.keeper.now() / 300) * 300;
  const lines = world.units
    .filter(({ name }) => name.startsWith("desk-osl"))
    .map((unit) => {
      const [value] = samplesOver(world.seed, unit, { metric: "cpu", from: to - 300, to });
      return `demo_cpu_percent{instance="${unit.name}:9100"} ${value ?? "NaN"}\n`;
    });
  return `${lines.join("")}demo_cpu_percent{instance="desk-ols-01:9100"} 4\n`;
}

async function serve(answer: Parameters<typeof createServer>[1] & object): Promise<string> {
  const server: Server = createServer(answer as never);
  await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
  ends.push(() => {
    server.closeAllConnections();
    server.close();
  });
  return `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
}

async function start(program: string, args: (port: number) => string[]): Promise<number> {
  const port = await freePort();
  const child = spawn(program, args(port), { stdio: ["ignore", "ignore", "ignore"] });
  const ended = new Promise<void>((resolve) => child.once("exit", () => resolve()));
  ends.push(async () => {
    child.kill("SIGTERM");
    await ended;
  });
  return port;
}

const query = (text: string, label = "instance", metric = "cpu") => ({ metric, query: text, label });
const trying = (text: string, { label = "instance", at = url } = {}) =>
  tryPull(here.services, DEMO_ACTOR, { url: at, query: query(text, label), naming: NAMING });
const idOf = (name: string) => {
  const unit = here.keeper.world.units.find((one) => one.name === name);
  return `${unit?.account}:${unit?.id}`;
};

test(
  "a query is tried: what matched, what did not and whom it nearly names; a wrong one says what the server says",
  async () => {
    await expect
      .poll(async () => (await trying("demo_cpu_percent")).series, { timeout: 30_000, interval: 500 })
      .toBeGreaterThan(20);
    const tried = await trying("demo_cpu_percent");
    expect(tried.matched.length).toBe(tried.series - 1);
    expect(tried.unmatched).toMatchObject([{ identity: "desk-ols-01", why: "names no machine", nearly: "desk-osl-01" }]);
    await expect.poll(async () => (await trying("node_load1", { label: "machine" })).matched.length, { timeout: 20_000 }).toBe(1);
    expect((await trying("node_load1")).matched).toEqual([]);
    await expect(trying("sum(")).rejects.toThrow(/bad_data: .*parse error/);
    await expect(trying("1 + 1")).rejects.toThrow("the query gives a scalar: it must give series, with labels");
    await expect(trying("up", { at: hanging })).rejects.toThrow("no answer within 4 s");
    await expect(trying("up", { at: wrong })).rejects.toThrow("no Prometheus answers there");
    await expect(trying("up", { at: "http://127.0.0.1:1" })).rejects.toThrow("no Prometheus answers there");
  },
  within(60),
);

test("on this machine a source is asked only where that is allowed, by whatever name, and what listens is not told", async () => {
  const services = { ...here.services, allowsLocalSources: false };
  const { port } = new URL(url);
  const at = (address: string) => tryPull(services, DEMO_ACTOR, { url: address, query: query("up"), naming: NAMING });
  for (const host of ["127.0.0.1", "localhost", "[::1]", "127.1", "[::ffff:127.0.0.1]", "0.0.0.0", "169.254.169.254"])
    await expect(at(`http://${host}:${port}`), host).rejects.toThrow("it leads to an address of this machine");
  const closed = await trying("up", { at: "http://127.0.0.1:1" }).catch(({ message }: Error) => message);
  expect(await trying("up", { at: wrong }).catch(({ message }: Error) => message)).toBe(closed);
  expect(await trying("up", { at: "http://nowhere.invalid" }).catch(({ message }: Error) => message)).toBe(
    "its name leads nowhere",
  );
});

test(
  "each round asks those that are due, each apart: one that hangs and one that errs keep no other waiting",
  async () => {
    const { services, keeper } = here;
    const make = (name: string, at: string, queries: ReturnType<typeof query>[]) =>
      makeSource(services, DEMO_ACTOR, { name, url: at, queries, naming: NAMING, stepS: 60 });
    await make("house", url, [query("demo_cpu_percent"), query("node_load1", "machine", "load")]);
    await make("hangs", hanging, [query("up")]);
    await make("errs", url, [query("sum(")]);
    await make("odd", wrong, [query("up")]);
    const began = Date.now();
    await pullLatest(services, WORKER, keeper.now());
    expect(Date.now() - began).toBeLessThan(within(10));
    const sources = new Map((await metricSources(services, DEMO_ACTOR)).map((one) => [one.name, one]));
    expect(sources.get("house")).toMatchObject({ unmatched: 1, error: expect.stringContaining("names no machine") });
    expect(sources.get("house")?.matched).toBeGreaterThan(20);
    expect(sources.get("hangs")).toMatchObject({ error: "no answer within 4 s", isSilent: true });
    expect(sources.get("errs")).toMatchObject({ error: expect.stringMatching(/^cpu: bad_data/), isSilent: false });
    expect(sources.get("odd")?.error).toMatch(/no Prometheus answers there/);
    const now = keeper.now();
    const samples = await recentSamples(services.pool, {
      ids: [idOf(desk)],
      metrics: ["cpu", "load"],
      from: now - 600,
      to: now + 120,
    });
    expect((samples.get(idOf(desk)) ?? []).map(({ metric }) => metric).sort()).toEqual(["cpu", "load"]);
    // Not due yet, and one that hung is left alone for a while.
    const again = Date.now();
    await pullLatest(services, WORKER, now + 65);
    expect(Date.now() - again).toBeLessThan(within(3.5));
  },
  within(60),
);

test(
  "a Prometheus is asked for its past once, day by day, and what it knows is kept; one that has gone says so and is asked again",
  async () => {
    const { services } = here;
    const sources = await metricSources(services, DEMO_ACTOR);
    const house = sources.find(({ name }) => name === "house");
    const gone = sources.find(({ name }) => name === "odd");
    await askHistory(services, DEMO_ACTOR, house?.id ?? 0);
    await expect(askHistory(services, DEMO_ACTOR, house?.id ?? 0)).rejects.toThrow("already");
    expect(await readHistory(services, WORKER, { id: house?.id ?? 0 })).toEqual({ isDone: true });
    const after = (await metricSources(services, DEMO_ACTOR)).find(({ name }) => name === "house");
    expect(after?.history).toEqual({ done: 28, of: 28, error: null });
    // It has run for seconds: its past days are empty, and empty days are not kept.
    expect(await metricDays(services.pool, { ids: [idOf(desk)], metric: "load", from: "2027-02-01", to: "2027-03-16" })).toEqual(
      [],
    );
    await askHistory(services, DEMO_ACTOR, gone?.id ?? 0);
    await readHistory(services, WORKER, { id: gone?.id ?? 0 });
    expect((await metricSources(services, DEMO_ACTOR)).find(({ name }) => name === "odd")?.history).toMatchObject({
      done: 0,
      error: expect.stringContaining("no Prometheus answers there"),
    });
    await askHistory(services, DEMO_ACTOR, gone?.id ?? 0);
  },
  within(60),
);

test(
  "the past that a server gives is put into days by the step of the source",
  async () => {
    const { services, keeper } = here;
    const real = Math.floor(Date.now() / 1000);
    const ahead = keeper.now() - real;
    const server = await serve((request, response) => {
      let text = "";
      request.on("data", (part: Buffer) => {
        text += part;
      });
      request.on("end", () => {
        const asked = new URLSearchParams(text);
        const [from, to] = [Number(asked.get("start")), Number(asked.get("end"))];
        const values = Array.from({ length: Math.round((to - from) / 300) + 1 }, (_, i) => [from + i * 300, String(i % 7)]);
        response.end(
          JSON.stringify({
            status: "success",
            data: { resultType: "matrix", result: [{ metric: { instance: "desk-osl-03" }, values }] },
          }),
        );
      });
    });
    const { id } = await makeSource(services, DEMO_ACTOR, {
      name: "past",
      url: server,
      queries: [query("x", "instance", "own.metric")],
      naming: NAMING,
      stepS: 300,
    });
    await askHistory(services, DEMO_ACTOR, id);
    await readHistory(services, WORKER, { id });
    const days = await metricDays(services.pool, {
      ids: [idOf("desk-osl-03")],
      metric: "own.metric",
      from: "2027-01-01",
      to: "2027-03-16",
    });
    expect(days).toHaveLength(28);
    expect(days[0]?.samples).toEqual(Array.from({ length: 288 }, (_, i) => i % 7));
    expect(Math.abs(ahead)).toBeGreaterThan(86_400);
  },
  within(60),
);
