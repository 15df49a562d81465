import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { gzipSync } from "node:zlib";
import pg from "pg";
import { startDemo } from "../bin/lib/demo.mjs";
import { freshDatabase } from "../tests/support/world";
import { medianMsAsync, report } from "./measure";

const MACHINES = 10_000;
const CHART_LIBRARY = "plotly.js v";

/** The first page of Burn with 10,000 running machines, from the built application over HTTP; and what its scripts weigh. */
export async function benchBurn(yardstick: number): Promise<void> {
  const database = await freshDatabase();
  const state = mkdtempSync(join(tmpdir(), "umbrik-bench-"));
  const demo = await startDemo({ databaseUrl: database.url, state, port: 0 });
  const client = new pg.Client({ connectionString: database.url });
  try {
    await fetch(`${demo.standinUrl}/clock`, { method: "POST", body: JSON.stringify({ rate: 0 }) });
    await untilRead(demo.url);
    await client.connect();
    // The first reading of metrics would share the machine with what is measured.
    for (let isBusy = true; isBusy; ) {
      const { rows } = await client.query("select count(*)::integer as jobs from graphile_worker.jobs");
      isBusy = rows[0].jobs > 0;
      await new Promise((resolve) => setTimeout(resolve, 300));
    }
    await client.query(MANY_MACHINES, [MACHINES]);
    const answers = await Promise.all(
      ["/", "/api/burn?limit=100"].map((path) => fetch(demo.url + path).then((response) => response.text())),
    );
    if (!answers[0]?.includes(String(MACHINES).slice(0, 2))) throw new Error("Burn does not show the machines");
    for (const path of ["/", "/api/burn?limit=100"]) {
      const ms = await medianMsAsync(() => fetch(demo.url + path).then((response) => response.text()));
      report({
        name: `first page of Burn with 10,000 running machines, ${path}`,
        figure: `${ms.toFixed(0)} ms, ${(ms / yardstick).toFixed(1)} yardsticks`,
        target: "at most 300 ms",
        isMet: ms <= 300,
        yardstick: `sorting a million numbers, ${yardstick.toFixed(0)} ms`,
      });
    }
    await reportScripts(demo.url, answers[0] ?? "");
  } finally {
    await client.end();
    await demo.stop();
    await database.drop();
    rmSync(state, { recursive: true, force: true });
  }
}

async function reportScripts(url: string, html: string): Promise<void> {
  const paths = [...new Set([...html.matchAll(/(?:src|href)="(\/_next\/[^"]+\.js)"/g)].map((match) => match[1] as string))];
  const scripts = await Promise.all(paths.map((path) => fetch(url + path).then((response) => response.text())));
  const bytes = scripts.reduce((sum, script) => sum + gzipSync(script, { level: 6 }).length, 0);
  const hasChart = scripts.some((script) => script.includes(CHART_LIBRARY));
  report({
    name: "compressed script of the first route",
    figure: `${(bytes / 1000).toFixed(0)} kB in ${paths.length} files${hasChart ? ", chart library among them" : ", no chart library"}`,
    target: "at most 250 kB",
    isMet: bytes <= 250_000 && !hasChart,
    yardstick: `its HTML, ${(gzipSync(html).length / 1000).toFixed(0)} kB compressed`,
  });
}

async function untilRead(url: string): Promise<void> {
  for (let i = 0; i < 100; i++) {
    const page = (await fetch(`${url}/api/burn`).then((response) => response.json())) as { all: { count: number } };
    if (page.all.count > 100) return;
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
  throw new Error("no round has read the clouds");
}

const MANY_MACHINES = `
  insert into resource (id, account, name, kind, region, zone, size, os, purchase, tags, state, level, target, level_max,
    since, run_since, cores, memory_gib, disk_gib, disk_class, addresses, attached_to, decision_id)
  select 'many-' || n, account, 'many-' || n, kind, region, zone, size, os, purchase, tags || jsonb_build_object('owner', 'o' || n % 97),
    'running', 1, 1, 1, since - n * interval '1 minute', since - n * interval '1 minute', cores, memory_gib, disk_gib, disk_class, addresses, null, decision_id
  from generate_series(1, $1::integer) as n
  join lateral (
    select * from resource where kind = 'machine' and state = 'running' and id not like 'many-%' order by id offset n % 100 limit 1
  ) like_one on true`;
