import { spawnSync } from "node:child_process";
import { join } from "node:path";
import { connectAccounts, DEMO_ACTOR, WORKER } from "@/services/admin";
import { loadPlan } from "@/services/plans";
import { approveStops, openRound, runRound } from "@/services/rounds";
import { startNode } from "../../bin/lib/processes.mjs";
import { ACCOUNTS } from "../../demo/accounts";
import type { Unit, World } from "../../standin/world/types";
import { type Faults, startFaults } from "./faults";
import { type Here, startHere } from "./weeks/standin-here";

export const HOUR = 3600;
/** Desks whose hours turn every hour of the clock, on at even ones: many edges in little time. */
export const HOURLY = `
umbrik: 1
schedules:
  - name: hourly
    zone: UTC
    rows:
      - day: daily
        spans: [${Array.from({ length: 12 }, (_, i) => `"${two(2 * i)}:00-${two(2 * i + 1)}:00"`).join(", ")}]
fleets:
  - { name: desks, select: "team = draughting and region = fjord-1", hours: hourly, enforce: always }
`;
/** Half an hour before an odd hour: what runs is about to stop for the first time. */
export const HOURLY_START = Date.UTC(2027, 2, 16, 22, 30) / 1000;

function two(n: number): string {
  return String(n).padStart(2, "0");
}

/** A world in this process behind a proxy of faults, with one fleet in force that has been looked at for two hours. */
export type Trusted = Here &
  Readonly<{
    faults: Faults;
    desks: () => Unit[];
    running: () => number;
    round: () => Promise<number>;
    /** So many rounds, each some seconds after a wait. */
    rounds: (count: number, seconds?: number) => Promise<void>;
    /** To the next full hour, when all desks are due to turn. */
    nextEdge: () => void;
    /** To the coming even hour and until all desks are on: the next edge turns them off. */
    morning: () => Promise<void>;
  }>;

export async function startTrusted(
  plan = HOURLY,
  inForce: readonly string[] = ["desks"],
  {
    at = HOURLY_START,
    accounts = ACCOUNTS.map(({ name }) => name),
    prepare = () => {},
  }: Readonly<{ at?: number; accounts?: readonly string[]; prepare?: (world: World) => void }> = {},
): Promise<Trusted> {
  const here = await startHere(at, accounts, prepare);
  const { services, keeper } = here;
  const faults = await startFaults(new URL(here.clockUrl).origin);
  await connectAccounts(
    services,
    DEMO_ACTOR,
    ACCOUNTS.filter(({ name }) => accounts.includes(name)).map(({ name, provider, key }) => ({
      name,
      provider,
      key,
      baseUrl: `${faults.url}/${provider}`,
    })),
  );
  await runRound(services, WORKER, "act");
  await loadPlan(services, DEMO_ACTOR, { text: plan, inForce: [...inForce] });
  const round = async () => {
    const id = await runRound(services, WORKER, "act");
    if (id === null) throw new Error("another leads");
    return id;
  };
  // What runs now was not foreseen by a plan so young: a person lets it go.
  const { round: first } = await openRound(services, DEMO_ACTOR, { id: await round(), offset: 0 });
  if (first.braked > 0) {
    await approveStops(services, DEMO_ACTOR, { round: first.id, stops: first.braked });
    await round();
  }
  for (const minutes of [2, 20, 40, 62]) {
    keeper.stepTo(at + minutes * 60);
    await round();
  }
  const desks = () =>
    keeper.world.units.filter(
      ({ tags, region, name }) => tags.team === "draughting" && region === "fjord-1" && name.startsWith("desk"),
    );
  const running = () => desks().filter((unit) => unit.life.at(-1)?.state === "running").length;
  const rounds = async (count: number, seconds = 60) => {
    for (let i = 0; i < count; i++) {
      keeper.stepTo(keeper.now() + seconds);
      await round();
    }
  };
  const nextEdge = () => keeper.stepTo(Math.ceil((keeper.now() + 1) / HOUR) * HOUR + 10);
  return {
    ...here,
    faults,
    round,
    desks,
    running,
    rounds,
    nextEdge,
    async morning() {
      nextEdge();
      if (Math.floor(keeper.now() / HOUR) % 2 !== 0) nextEdge();
      await round();
      for (let i = 0; i < 12 && running() < desks().length; i++) await rounds(1, 130);
      if (running() < desks().length) throw new Error("not all desks came on");
    },
    close: async () => {
      await here.close();
      await faults.close();
    },
  };
}

const BUNDLE = join(process.cwd(), "node_modules/.cache/umbrik-worker.mjs");
let isBundled = false;

/** The worker as one file: it starts in a third of a second. */
function workerFile(): string {
  if (isBundled) return BUNDLE;
  const options = ["--bundle", "--platform=node", "--format=esm", "--packages=external", `--outfile=${BUNDLE}`];
  const made = spawnSync("node_modules/.bin/esbuild", ["src/worker/main.ts", ...options], { encoding: "utf8" });
  if (made.status !== 0) throw new Error(made.stderr);
  isBundled = true;
  return BUNDLE;
}

export type Worker = ReturnType<typeof startNode>;

/** A worker process on a world's database and clock; ready when its first line is out. */
export async function startWorker({ databaseUrl, clockUrl }: Here): Promise<Worker> {
  const worker = startNode([workerFile()], { DATABASE_URL: databaseUrl, UMBRIK_CLOCK_URL: clockUrl });
  await worker.firstLine;
  return worker;
}
