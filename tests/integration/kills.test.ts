import { afterAll, beforeAll, expect, test } from "vitest";
import { type Chance, chanceOf } from "../support/chance";
import { within } from "../support/patience";
import { HOURLY, startTrusted, startWorker, type Trusted, type Worker } from "../support/trusted";

/**
 * Workers are killed (signal 9) a hundred times, at every step of a round: while they read, before an action
 * reaches its provider, after it did and before they hear of it. Each edge is acted on by whoever comes next.
 */
const KILLS = 100;
const KILLS_AN_EDGE = 10;
/** About what a round asks of its accounts besides its actions. */
const OTHER_REQUESTS = 10;
const SEED = Number(process.env.UMBRIK_SEED ?? 20270316);

let trusted: Trusted;
let worker: Worker;
beforeAll(async () => {
  trusted = await startTrusted(HOURLY, ["desks"], { accounts: ["skerry-desks", "skerry-learn"] });
  worker = await startWorker(trusted);
}, within(60));
afterAll(async () => {
  trusted?.faults.rule(() => undefined);
  await worker?.stop();
  await trusted?.close();
});

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** True once a round of this very instant, or of a later one, has come to its end. */
async function isRoundOfNowDone(): Promise<boolean> {
  const { rows } = await trusted.services.pool.query<{ at: number }>(
    "select at from round where status = 'done' and mode = 'act' order by id desc limit 1",
  );
  return (rows[0]?.at ?? 0) >= trusted.keeper.now();
}

/** Until it has. */
async function roundOfNow(): Promise<void> {
  for (let i = 0; i < 400; i++) {
    if (await isRoundOfNowDone()) return;
    await pause(20);
  }
  throw new Error(`no round of ${trusted.keeper.now()} ended within eight seconds (seed ${SEED})`);
}

type Killing = Readonly<{ chance: Chance; steps: number }>;

/** Kills the worker before or after one of the next requests of its round, and starts another; false where the round ended before that. */
async function killOnce({ chance, steps }: Killing): Promise<boolean> {
  const killAt = chance.int(1, steps);
  const isAfter = chance.int(0, 1) === 1;
  let passed = 0;
  const dying = worker;
  const kill = () => dying.child.kill("SIGKILL");
  trusted.faults.rule(() => {
    if (++passed !== killAt) return undefined;
    return { kind: "meanwhile", ...(isAfter ? { after: kill } : { before: kill }) };
  });
  await Promise.race([dying.ended, roundOfNow()]);
  trusted.faults.rule(() => undefined);
  if (passed < killAt) return false;
  await dying.ended;
  worker = await startWorker(trusted);
  return true;
}

/** What was decided and done of it last, for whoever reads a failure. */
async function storyOf(id: string): Promise<string> {
  const { pool } = trusted.services;
  const key = `skerry-desks:${id}`;
  const decisions = await pool.query(
    "select round_id, verdict, why from decision where resource_id = $1 order by id desc limit 4",
    [key],
  );
  const actions = await pool.query(
    "select round_id, verb, status, last_answer from action where resource_id = $1 order by id desc limit 3",
    [key],
  );
  const rounds = await pool.query("select id, at, status, sent, waiting, braked, unread from round order by id desc limit 5");
  return JSON.stringify({ now: trusted.keeper.now(), decisions: decisions.rows, actions: actions.rows, rounds: rounds.rows });
}

/** What its provider had no capacity for of late: as on any day, that takes its time. */
async function withoutCapacity(): Promise<Set<string>> {
  const { rows } = await trusted.services.pool.query<{ id: string }>(
    "select split_part(resource_id, ':', 2) as id from action where status = 'sent' and last_answer like '%to be had%'",
  );
  return new Set(rows.map(({ id }) => id));
}

test(`a worker killed ${KILLS} times loses no action, repeats none, and is late by no more than two rounds`, {
  timeout: within(600),
}, async () => {
  console.log(`seed ${SEED}`);
  const chance = chanceOf(SEED);
  const { keeper, services, desks } = trusted;
  expect(desks().length).toBe(28);
  let kills = 0;
  let edge = Math.ceil(keeper.now() / 3600) * 3600;
  const late: string[] = [];
  while (kills < KILLS) {
    const due = (edge / 3600) % 2 === 0 ? "starting" : "stopping";
    // Those that are to change now, and what is told of each from here on.
    const acting = desks().filter((unit) => (unit.life.at(-1)?.state === "running") === (due === "stopping"));
    const from = keeper.world.events.length;
    keeper.stepTo(edge + chance.int(0, 50));
    for (let k = 0; k < KILLS_AN_EDGE; k++) {
      // A round that failed is followed by another a minute later.
      if (k > 0) keeper.stepTo(keeper.now() + 61);
      if (!(await killOnce({ chance, steps: OTHER_REQUESTS + acting.length }))) break;
      kills++;
    }
    const restarted = keeper.now();
    const toldOf = () => keeper.world.events.slice(from).filter(({ type }) => type === due);
    const isLeft = () => {
      const ids = new Set(toldOf().map(({ resource }) => resource));
      return acting.some(({ id }) => !ids.has(id));
    };
    for (let round = 0; round < 2 && isLeft(); round++) {
      keeper.stepTo(keeper.now() + 61);
      await roundOfNow();
    }
    const told = toldOf();
    const refused = await withoutCapacity();
    for (const unit of acting) {
      if (refused.has(unit.id)) continue;
      const own = told.filter(({ resource }) => resource === unit.id);
      if ((own[0]?.at ?? 0) > restarted + 2 * 61) late.push(unit.name);
      // Its owner may have shut it down from inside a moment before, or started it again a moment after.
      const isOn = ["running", "starting"].includes(unit.life.at(-1)?.state ?? "");
      const isAsDue = isOn === (due === "starting");
      if (own.length === 1 || (own.length === 0 && isAsDue)) continue;
      const where = `${unit.name} at ${edge}, seed ${SEED}, kill ${kills}; ${await storyOf(unit.id)}`;
      expect.unreachable(`told to be ${due} ${own.length} times, within two rounds: ${where}`);
    }
    edge += 3600;
  }
  expect(late).toEqual([]);
  keeper.stepTo(keeper.now() + 600);
  await roundOfNow();
  // Nothing was refused, and nothing that was accepted came to nothing.
  const { rows } = await services.pool.query(
    "select verb, status, last_answer as answer from action where status = 'refused' or (status = 'given up' and last_answer like '%accepted%')",
  );
  expect(rows).toEqual([]);
  // A round whose worker was killed does not stand as running for ever.
  expect((await services.pool.query("select from round where status = 'running'")).rowCount).toBe(0);
});
