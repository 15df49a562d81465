import { mkdtempSync, rmSync } from "node:fs";
import { afterAll, beforeAll, expect, test } from "vitest";
import { type Server, startPostgres } from "../../bin/lib/postgres.mjs";
import { chanceOf } from "../support/chance";
import { within } from "../support/patience";
import { startTrusted, startWorker, type Trusted, type Worker } from "../support/trusted";

/** The database is stopped and started at random moments; the worker goes on by itself and every edge is acted on once. */
const LOSSES = 20;
const SEED = Number(process.env.UMBRIK_SEED ?? 41);

let server: Server;
let folder: string;
let trusted: Trusted;
let worker: Worker;
const shared = process.env.UMBRIK_TEST_SERVER;
beforeAll(async () => {
  folder = mkdtempSync("/var/tmp/umbrik-lost-");
  server = await startPostgres(folder);
  process.env.UMBRIK_TEST_SERVER = server.url;
  trusted = await startTrusted();
  worker = await startWorker(trusted);
}, within(120));
afterAll(async () => {
  await worker?.stop();
  await trusted?.close();
  process.env.UMBRIK_TEST_SERVER = shared;
  server?.stop();
  rmSync(folder, { recursive: true, force: true });
});

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

test(`a database lost ${LOSSES} times ends no worker, loses no action and repeats none`, { timeout: 300_000 }, async () => {
  console.log(`seed ${SEED}`);
  const chance = chanceOf(SEED);
  const { keeper, desks } = trusted;
  let hasEnded = false;
  void worker.ended.then(() => {
    hasEnded = true;
  });
  for (let loss = 0; loss < LOSSES; loss++) {
    const edge = Math.ceil((keeper.now() + 1) / 3600) * 3600;
    const due = (edge / 3600) % 2 === 0 ? "starting" : "stopping";
    const acting = desks().filter((unit) => (unit.life.at(-1)?.state === "running") === (due === "stopping"));
    const from = keeper.world.events.at(-1)?.n ?? 0;
    keeper.stepTo(edge + 5);
    await pause(chance.int(0, 900));
    server.crash();
    await pause(chance.int(0, 300));
    server.again();
    const toldOf = () => keeper.world.events.filter((event) => event.n > from && event.type === due);
    // As long as somebody without capacity is waited for, or half a minute.
    for (let i = 0; i < 120 && new Set(toldOf().map(({ resource }) => resource)).size < acting.length; i++) {
      if (i % 8 === 7) keeper.stepTo(keeper.now() + 61);
      await pause(125);
    }
    const told = toldOf().map(({ resource }) => resource);
    expect(hasEnded, `the worker ended, loss ${loss}, seed ${SEED}`).toBe(false);
    expect(new Set(told).size, `told twice, loss ${loss}, seed ${SEED}`).toBe(told.length);
    expect(told.length, `not all told, loss ${loss}, seed ${SEED}`).toBeGreaterThanOrEqual(acting.length - 4);
    keeper.stepTo(keeper.now() + 300);
  }
});
