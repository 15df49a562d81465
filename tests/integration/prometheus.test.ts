import { spawn, spawnSync } from "node:child_process";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { createServer } from "node:http";
import type { AddressInfo } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, expect, test } from "vitest";
import { OPEN_METRICS } from "@/core/open-metrics";
import { DEMO_ACTOR, metricsText, WORKER } from "@/services/admin";
import { runRound } from "@/services/rounds";
import { PROMETHEUS } from "../../bin/lib/debian.mjs";
import { freePort } from "../../bin/lib/ports.mjs";
import { within } from "../support/patience";
import { type Here, startHere } from "../support/weeks/standin-here";

/** The real Prometheus reads what we tell of ourselves, and answers questions about it. */
const ends: (() => Promise<void> | void)[] = [];
let here: Here;
let url: string;
beforeAll(async () => {
  here = await startHere(Date.UTC(2027, 2, 16, 5) / 1000);
  ends.push(() => here.close());
  await runRound(here.services, WORKER, "act");
  const target = createServer((_, response) => {
    metricsText(here.services, DEMO_ACTOR).then((text) => response.writeHead(200, { "content-type": OPEN_METRICS }).end(text));
  });
  await new Promise<void>((resolve) => target.listen(0, "127.0.0.1", resolve));
  ends.push(() => target.close() && undefined);
  const folder = mkdtempSync(join(tmpdir(), "umbrik-prometheus-"));
  ends.push(() => rmSync(folder, { recursive: true, force: true }));
  const scraped = `127.0.0.1:${(target.address() as AddressInfo).port}`;
  const config = `global: { scrape_interval: 1s }\nscrape_configs: [{ job_name: umbrik, static_configs: [{ targets: ["${scraped}"] }] }]\n`;
  writeFileSync(join(folder, "prometheus.yml"), config);
  const port = await freePort();
  const child = spawn(
    PROMETHEUS,
    [
      `--config.file=${join(folder, "prometheus.yml")}`,
      `--storage.tsdb.path=${join(folder, "data")}`,
      `--web.listen-address=127.0.0.1:${port}`,
      "--log.level=error",
    ],
    { stdio: ["ignore", "inherit", "inherit"] },
  );
  const ended = new Promise<void>((resolve) => child.once("exit", () => resolve()));
  ends.push(async () => {
    child.kill("SIGTERM");
    await ended;
  });
  url = `http://127.0.0.1:${port}`;
}, within(60));
afterAll(async () => {
  for (const end of ends.reverse()) await end();
});

type Sample = Readonly<{ metric: Record<string, string>; value: [number, string] }>;

async function asked(query: string): Promise<readonly Sample[]> {
  const response = await fetch(`${url}/api/v1/query?query=${encodeURIComponent(query)}`).catch(() => null);
  if (!response?.ok) return [];
  const { data } = (await response.json()) as { data: { result: Sample[] } };
  return data.result;
}

test("in the format of old, too, what we tell is as Prometheus's own check wants it", async () => {
  const text = await metricsText(here.services, DEMO_ACTOR, "prometheus");
  const { status, stderr, stdout } = spawnSync("promtool", ["check", "metrics"], { input: text, encoding: "utf8" });
  expect(stdout + stderr).toBe("");
  expect(status).toBe(0);
});

test("Prometheus reads our metrics whole, with their types, and answers with what is stored", async () => {
  await expect.poll(() => asked("up == 1"), { timeout: 30_000, interval: 300 }).toHaveLength(1);
  const one = async (query: string) => Number((await asked(query))[0]?.value[1]);
  expect(await one('umbrik_rounds_total{status="done"}')).toBe(1);
  expect(await one("sum(umbrik_account_read)")).toBe(4);
  const { rows } = await here.services.pool.query("select count(*)::integer as n from resource where state = 'running'");
  expect(await one('umbrik_resources{state="running"}')).toBe(rows[0].n);
  const described = await fetch(`${url}/api/v1/targets/metadata?metric=umbrik_round_age_seconds`).then((answer) => answer.json());
  expect(described.data[0]).toMatchObject({ type: "gauge", unit: "seconds" });
  await runRound(here.services, WORKER, "act");
  await expect.poll(() => one('umbrik_rounds_total{status="done"}'), { timeout: 10_000, interval: 300 }).toBe(2);
});
