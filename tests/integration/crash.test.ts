import { Readable } from "node:stream";
import { afterAll, beforeAll, expect, test } from "vitest";
import { DEMO_ACTOR } from "@/services/admin";
import { runRound } from "@/services/rounds";
import { openImport, receiveImport } from "@/services/usage";
import { startNode, typescript } from "../../bin/lib/processes.mjs";
import { startWorld, type TestWorld } from "../support/world";

let world: TestWorld;
beforeAll(async () => {
  world = await startWorld();
  await runRound(world.services, DEMO_ACTOR, "act");
});
afterAll(() => world.close());

const LINES = 250_000;
const HEADER = "BillingCurrency,BilledCost,ChargeCategory,ChargePeriodStart,ChargePeriodEnd,ResourceId,Tags\n";

function* bill(): Generator<Buffer> {
  yield Buffer.from(HEADER);
  for (let i = 0; i < LINES; i += 1000) {
    const lines = Array.from(
      { length: 1000 },
      (_, j) => `EUR,0.000001,Usage,2027-02-20T00:00:00Z,2027-02-21T00:00:00Z,r-${i + j},"{""owner"":""o${j}""}"\n`,
    );
    yield Buffer.from(lines.join(""));
  }
}

test("a worker killed in the middle of a file leaves it to the next one, which ends it with every line once", async () => {
  const { services, databaseUrl, standin } = world;
  const env = { DATABASE_URL: databaseUrl, UMBRIK_CLOCK_URL: `${standin.url}/clock` };
  const id = await receiveImport(services, DEMO_ACTOR, { fileName: "bill.csv", bytes: Readable.from(bill()) });
  const state = async () => (await openImport(services, DEMO_ACTOR, id)).one;

  const first = startNode(typescript("src/worker/main.ts"), env);
  let half = await state();
  for (let i = 0; i < 600 && half.linesTaken === 0; i++) {
    await new Promise((resolve) => setTimeout(resolve, 25));
    half = await state();
  }
  // As when the machine goes: nothing is said to anybody.
  first.child.kill("SIGKILL");
  await first.ended;
  half = await state();
  expect(half.linesTaken).toBeGreaterThan(0);
  expect(half.linesTaken).toBeLessThan(LINES);

  const second = startNode(typescript("src/worker/main.ts"), env);
  for (let i = 0; i < 600 && (await state()).status !== "done"; i++) await new Promise((resolve) => setTimeout(resolve, 100));
  await second.stop();
  expect(await state()).toMatchObject({ status: "done", linesTaken: LINES, linesRefused: 0, billed: "0.25" });
  const { rows } = await services.pool.query<{ n: number; distinct: number }>(
    "select count(*)::integer as n, count(distinct line)::integer as distinct from usage_line where import_id = $1",
    [id],
  );
  expect(rows[0]).toEqual({ n: LINES, distinct: LINES });
});
