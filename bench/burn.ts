import { gzipSync } from "node:zlib";
import type { BenchDemo } from "./demo";
import { medianMsAsync, report } from "./measure";

const MACHINES = 10_000;
const CHART_LIBRARY = "plotly.js v";

/** The first page of Burn with 10,000 running machines, from the built application over HTTP; and what its scripts weigh. */
export async function benchBurn(demo: BenchDemo, yardstick: number): Promise<void> {
  await demo.client.query(MANY_MACHINES, [MACHINES]);
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

export const MANY_MACHINES = `
  with like_one as materialized (
    select *, row_number() over (order by id) - 1 as place
    from (select * from resource where kind = 'machine' and state = 'running' and id not like 'many-%' order by id limit 100) as first
  )
  insert into resource (id, account, name, kind, region, zone, size, os, purchase, tags, state, level, target, level_max,
    since, run_since, cores, memory_gib, disk_gib, disk_class, addresses, attached_to, decision_id)
  select 'many-' || n, account, 'many-' || n, kind, region, zone, size, os, purchase, tags || jsonb_build_object('owner', 'o' || n % 97),
    'running', 1, 1, 1, since - n * interval '1 minute', since - n * interval '1 minute', cores, memory_gib, disk_gib, disk_class, addresses, null, decision_id
  from generate_series(1, $1::integer) as n
  join like_one on place = n % (select count(*) from like_one)`;
