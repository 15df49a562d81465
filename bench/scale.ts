import { DEMO_ACTOR, WORKER } from "@/services/admin";
import { burnPage, closeSpendDays, measureSavings } from "@/services/cost";
import { loadSnapshot, readClouds } from "@/services/inventory";
import { loadPlan } from "@/services/plans";
import { runRound } from "@/services/rounds";
import { EVERYTHING } from "../tests/support/burn-query";
import { PLAN } from "../tests/support/weeks/hours";
import { type Here, startHere } from "../tests/support/weeks/standin-here";
import { MANY_MACHINES } from "./burn";
import { report } from "./measure";

/** The largest with the demo's own, and what is born meanwhile, is what one instance is meant for. */
const SIZES = [1_000, 10_000, 99_000] as const;
const START = Date.UTC(2027, 2, 16) / 1000;
const DAY_S = 86_400;
/** Ten times as many may take so many times as long. */
const GROWTH_MAX = 15;
/** What is a matter of milliseconds says nothing of growth. */
const FLOOR_MS = 30;

const QUERY = { ...EVERYTHING, limit: 100 };

/** From a thousand machines to a hundred thousand: what one look, one change, one closed day and one day of savings take. */
export async function benchScale(): Promise<void> {
  const rows: Record<string, number>[] = [];
  for (const size of SIZES) {
    const here = await startHere(START);
    try {
      rows.push(await measured(here, size));
    } finally {
      await here.close();
    }
  }
  for (const what of Object.keys(rows[0] ?? {})) {
    const ms = rows.map((row) => row[what] as number);
    const growth = ms.slice(1).map((one, i) => Math.max(one, FLOOR_MS) / Math.max(ms[i] as number, FLOOR_MS));
    report({
      name: `${what}, 1,000, 10,000 and 99,000 machines`,
      figure: `${ms.map((one) => one.toFixed(0)).join(", ")} ms: ${growth.map((one) => one.toFixed(1)).join(" and ")} times`,
      target: `at most ${GROWTH_MAX} times for ten times as many`,
      isMet: growth.every((one) => one <= GROWTH_MAX),
      yardstick: "the size before",
    });
  }
}

async function measured({ services, keeper }: Here, size: number): Promise<Record<string, number>> {
  const { pool } = services;
  await readClouds(services, START);
  await loadPlan(services, DEMO_ACTOR, { text: PLAN, inForce: ["desks-oslo", "archive-index"] });
  await runRound(services, WORKER, "act");
  await pool.query(MANY_MACHINES, [size]);
  await pool.query(LIVES);
  await pool.query("analyze resource, state_change");
  await closeSpendDays(services, WORKER);
  keeper.stepTo(START + 2 * DAY_S + 1800);
  await pool.query("update account set read_at = to_timestamp($1::double precision)", [keeper.now()]);
  const figures: Record<string, number> = {};
  const time = async (what: string, work: () => Promise<unknown>) => {
    const begin = performance.now();
    await work();
    figures[what] = performance.now() - begin;
  };
  await time("two days closed", () => closeSpendDays(services, WORKER));
  await time("savings of their days measured", () => measureSavings(services, WORKER));
  await time("the first look at Burn", () => burnPage(services, DEMO_ACTOR, QUERY));
  await pool.query("update resource set level = level where id = 'many-1'");
  await time("the inventory read again after one change", () => loadSnapshot(services));
  await time("a look at Burn after it", () => burnPage(services, DEMO_ACTOR, QUERY));
  return figures;
}

/** A run of seventeen hours on each of two days. */
const LIVES = `
  insert into state_change (account, n, resource_id, at, type, state, level, note, run_since)
  select r.account, 100000000 + substr(r.id, 6)::integer * 4 + 2 * d + part, r.id, on_at + part * interval '17 hours',
    case part when 0 then 'running' else 'stopped' end, case part when 0 then 'running' else 'stopped' end, 1 - part, '',
    case part when 0 then on_at end
  from resource r
  cross join generate_series(0, 1) as d
  cross join lateral (
    select timestamptz '2027-03-16 00:30:00+00' + d * interval '1 day' + (substr(r.id, 6)::integer % 60) * interval '1 minute' as on_at
  ) as each
  cross join generate_series(0, 1) as part
  where r.id like 'many-%'`;
