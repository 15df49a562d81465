import { runMigrations } from "graphile-worker";
import { connectAccounts, DEMO_ACTOR, migrateDatabase, openServices, WORKER } from "@/services/admin";
import { loadPlan } from "@/services/plans";
import { runRound } from "@/services/rounds";
import { CROWD_EDGE, CROWD_PLAN, CROWD_START, crowdAccounts } from "./crowd-accounts";

/**
 * Rounds over a crowd, in a process of their own so that its memory is theirs: `STANDIN_URL` as the argument,
 * DATABASE_URL in the environment. Prints one line of JSON.
 */
const standinUrl = process.argv[2] as string;
let firstActMs: number | null = null;
const plain = openServices({ DATABASE_URL: process.env.DATABASE_URL ?? "", UMBRIK_CLOCK_URL: `${standinUrl}/clock` });
const services: typeof plain = {
  ...plain,
  provider: (...given) => {
    const parts = plain.provider(...given);
    return {
      ...parts,
      power: {
        act: (action) => {
          firstActMs ??= performance.now();
          return parts.power.act(action);
        },
      },
    };
  },
};
const stepTo = (to: number) => fetch(`${standinUrl}/clock/step`, { method: "POST", body: JSON.stringify({ to }) });
const timed = async (at: number) => {
  await stepTo(at);
  firstActMs = null;
  const begin = performance.now();
  await runRound(services, WORKER, "act");
  return { roundMs: performance.now() - begin, lagMs: firstActMs === null ? null : firstActMs - begin };
};

await migrateDatabase(services, DEMO_ACTOR, "db/migrations");
await runMigrations({ pgPool: services.pool });
await connectAccounts(services, DEMO_ACTOR, crowdAccounts(standinUrl));
const first = await timed(CROWD_START);
await loadPlan(services, DEMO_ACTOR, { text: CROWD_PLAN, inForce: ["late-shift", "crowd"] });
const decided = await timed(CROWD_START + 60);
await timed(CROWD_EDGE - 120);
const quiet = await timed(CROWD_EDGE - 60);
const edge = await timed(CROWD_EDGE);
console.log(
  JSON.stringify({
    first: first.roundMs,
    decided: decided.roundMs,
    quiet: quiet.roundMs,
    edge: edge.roundMs,
    lag: edge.lagMs,
    memoryMb: process.resourceUsage().maxRSS / 1000,
  }),
);
await services.pool.end();
