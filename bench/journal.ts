import { DEMO_ACTOR } from "@/services/admin";
import { searchJournal } from "@/services/rounds";
import { startHere } from "../tests/support/weeks/standin-here";
import { medianMsAsync, report } from "./measure";

const START = Date.UTC(2027, 2, 16) / 1000;
const DECISIONS = 10_000_000;
/** One decision in five was acted on. */
const ACTIONS = DECISIONS / 5;
const ROUNDS = 100_000;
const MACHINES = 10_000;
const SEARCH_MS = 200;

const ALL = { text: "", outcome: "", from: null, to: null, before: null } as const;
const SEARCHES = [
  ["all of it", ALL],
  ["one machine", { ...ALL, text: "many-4711" }],
  ["part of many names", { ...ALL, text: "many-" }],
  ["a fleet", { ...ALL, text: "fleet-7" }],
  ["a person who asked seldom", { ...ALL, text: "someone" }],
  ["what nothing is called", { ...ALL, text: "no such thing" }],
  ["refused, a month ago", { ...ALL, outcome: "refused", from: START - 40 * 86_400, to: START - 30 * 86_400 }],
  ["a fleet's refusals", { ...ALL, text: "fleet-7", outcome: "refused" }],
  ["far back", { ...ALL, before: 1000 }],
] as const;

/** Searching a journal of ten million decisions, two million of which were acted on. */
export async function benchJournal(yardstick: number): Promise<void> {
  const here = await startHere(START);
  const { services } = here;
  try {
    for (const statement of FILLED) await services.pool.query(statement);
    for (const [what, query] of SEARCHES) {
      const ms = await medianMsAsync(() => searchJournal(services, DEMO_ACTOR, query), { runs: 5 });
      report({
        name: `journal of ten million decisions searched: ${what}`,
        figure: `${ms.toFixed(0)} ms, ${(ms / yardstick).toFixed(1)} yardsticks`,
        target: `at most ${SEARCH_MS} ms`,
        isMet: ms <= SEARCH_MS,
        yardstick: `sorting a million numbers, ${yardstick.toFixed(0)} ms`,
      });
    }
  } finally {
    await here.close();
  }
}

const FILLED = [
  `insert into resource (id, account, name, kind, region, zone, size, os, purchase, tags, state, level, target, level_max, since, cores,
     memory_gib, disk_gib, disk_class, addresses)
   select 'skerry-desks:many-' || n, 'skerry-desks', 'many-' || n, 'machine', 'fjord-1', '', 'sloop-4', 'linux', 'firm', '{}', 'running', 1, 1,
     1, timestamptz '2027-01-01', 4, 16, 100, 'plain', 0
   from generate_series(1, ${MACHINES}) as n`,
  `insert into round (mode, asked_by, at, status)
   select 'act', case when n % 20000 = 0 then 'Someone' else 'umbrik rounds' end,
     timestamptz '2027-03-16' - (${ROUNDS} - n) * interval '1 minute', 'done'
   from generate_series(1, ${ROUNDS}) as n`,
  `insert into decision (round_id, is_rehearsal, resource_id, fleet, due, actual, verdict, why, chain)
   select 1 + n / (${DECISIONS} / ${ROUNDS}), false, 'skerry-desks:many-' || 1 + n::bigint * 7919 % ${MACHINES}, 'fleet-' || n % 30, n % 2, 1 - n % 2,
     'act', 'outside its hours', '[]'
   from generate_series(0, ${DECISIONS} - 1) as n`,
  `insert into action (key, round_id, resource_id, account, verb, level, status, attempts, recorded_at, try_again_at, deadline, last_answer,
     ended_at, fleet, asked_by, why)
   select 'bench-' || n, 1 + n / (${ACTIONS} / ${ROUNDS}), 'skerry-desks:many-' || 1 + n::bigint * 7919 % ${MACHINES}, 'skerry-desks',
     case n % 2 when 0 then 'stop' else 'start' end, n % 2, case when n % 500 = 0 then 'refused' else 'done' end, 1,
     ro.at, ro.at, ro.at, 'done', ro.at, 'fleet-' || n % 30, ro.asked_by, 'outside its hours'
   from generate_series(0, ${ACTIONS} - 1) as n
   join round ro on ro.id = 1 + n / (${ACTIONS} / ${ROUNDS})`,
  "analyze",
];
