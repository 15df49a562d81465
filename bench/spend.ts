import type { BenchDemo } from "./demo";
import { medianMsAsync, report } from "./measure";

const MACHINES = 10_000;
const DAYS = 90;

/**
 * Burn, the strip and both as of another instant, over HTTP from the built application, with 10,000
 * running machines that were started and stopped once a day for 90 days.
 */
export async function benchSpend({ url, client }: BenchDemo, yardstick: number): Promise<void> {
  await client.query(HISTORY, [MACHINES, DAYS]);
  await client.query(PRESENT);
  await client.query(SPEND);
  await client.query("update account a set event_cursor = (select max(n) from state_change c where c.account = a.name)");
  await client.query("analyze state_change, spend_day, resource");
  const { rows } = await client.query<{ n: string }>("select count(*)::text as n from state_change");
  const now = Date.UTC(2027, 2, 11, 5) / 1000;
  const tenDaysAgo = now - 10 * 86_400;
  const tuesday = Date.UTC(2027, 2, 16, 12) / 1000;
  /** Another minute at every look, as when the strip is dragged. */
  const dragged = (from: number, i: number) => `at=${new Date((from + 60 * i) * 1000).toISOString().slice(0, 19)}Z`;
  const change = () => client.query("update resource set level = level where id = 'many-1'");
  const cases: readonly Case[] = [
    { name: "Burn's query", path: () => "/api/burn?limit=100", most: 150 },
    { name: "Burn's query by owner", path: () => "/api/burn?limit=100&group=owner", most: 150 },
    { name: "Burn's query after a change of a machine", path: () => "/api/burn?limit=100", before: change, most: 150 },
    { name: "the strip", path: () => "/api/strip", most: 100 },
    { name: "the strip as of ten days ago", path: (i) => `/api/strip?${dragged(tenDaysAgo, i)}`, most: 100 },
    {
      name: "Burn as of an instant of the day, and looked at again",
      path: () => `/api/burn?limit=100&${dragged(now - 3 * 3600, 0)}`,
      most: 100,
    },
    {
      name: "Burn as of the coming Tuesday, and looked at again",
      path: () => `/api/burn?limit=100&${dragged(tuesday, 0)}`,
      most: 100,
    },
    { name: "Burn dragged through a day ten days ago", path: (i) => `/api/burn?limit=100&${dragged(tenDaysAgo, i)}`, most: 100 },
    { name: "Burn dragged through the coming Tuesday", path: (i) => `/api/burn?limit=100&${dragged(tuesday, i)}`, most: 100 },
  ];
  for (const { name, path, before, most } of cases) {
    const begin = performance.now();
    const text = await (await fetch(url + path(0))).text();
    const first = performance.now() - begin;
    if (text.length < 500) throw new Error(`${name}: ${text}`);
    let looks = 1;
    const ms = await medianMsAsync(() => fetch(url + path(looks++)).then((response) => response.text()), { before });
    report({
      name: `${name}, 10,000 machines, ${rows[0]?.n} state changes`,
      figure: `${ms.toFixed(0)} ms (the first time ${first.toFixed(0)} ms), ${(ms / yardstick).toFixed(2)} yardsticks`,
      target: `at most ${most} ms`,
      isMet: ms <= most,
      yardstick: `sorting a million numbers, ${yardstick.toFixed(0)} ms`,
    });
  }
}

type Case = Readonly<{
  name: string;
  /** Of the look so many after the first. */
  path: (look: number) => string;
  /** Done before every look, and not timed. */
  before?: () => Promise<unknown>;
  most: number;
}>;

/** On at half past midnight and some minutes, off in the evening; on again this morning. */
const HISTORY = `
  insert into state_change (account, n, resource_id, at, type, state, level, note, run_since)
  select r.account, 100000000 + (substr(r.id, 6)::integer * 400) + 2 * d + part, r.id,
    on_at + part * interval '17 hours', case part when 0 then 'running' else 'stopped' end,
    case part when 0 then 'running' else 'stopped' end, 1 - part, '', case part when 0 then on_at end
  from resource r
  cross join generate_series(0, $2::integer - 1) as d
  cross join lateral (
    select timestamptz '2027-03-11 00:30:00+00' - d * interval '1 day' + (substr(r.id, 6)::integer % 60) * interval '1 minute' as on_at
  ) as each
  cross join generate_series(0, 1) as part
  where r.id like 'many-%' and substr(r.id, 6)::integer <= $1::integer and (d > 0 or part = 0)`;

const PRESENT = `
  update resource r
  set since = c.at, run_since = c.at
  from state_change c
  where c.resource_id = r.id and r.id like 'many-%' and c.at > '2027-03-11' and c.state = 'running'`;

const SPEND = `
  insert into spend_day (day, resource_id, compute, licence, disk, address, image, covered, seconds_on)
  select day::date, id, 12345678901234, 0, 0, 0, 0, 0, 61200
  from resource
  cross join generate_series(date '2027-03-01', date '2027-03-10', interval '1 day') as day
  where id like 'many-%'
  on conflict do nothing`;
