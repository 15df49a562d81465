import { spawnSync } from "node:child_process";
import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";
import { Worker } from "node:worker_threads";
import { answer } from "@/cli/mix-threads";
import { type Mix, meanOf, mixSchema, type Outcomes, simulateStretch } from "@/core/mix";
import { madeCli } from "../bin/lib/cli.mjs";
import { medianBeside, medianMs, report } from "./measure";

/** The rates of mix-loop.c: in the mean one eviction in fourteen days, and all of a pool is looked at every eight. */
const RATES = [0.0008, 0.0016, 0.0024, 0.0032, 0.004, 0.006];
const MIX: Mix = mixSchema.parse({
  wanted: 200,
  firm: 0,
  firmPrice: 1,
  eviction: "drop",
  order: "even",
  provisionMinutes: 3,
  setupMinutes: 5,
  refillEveryMinutes: 5,
  pools: RATES.map((hazard, k) => ({
    name: `pool-${k}`,
    price: 0.3,
    hazard,
    reclaimRate: 0.005,
    reclaimShare: 0.2,
    availableHours: 80,
    dryHours: 4,
    dryHazardFactor: 3,
  })),
});
const DAYS = 28;
const LOOP_TRIALS = 600;

/** Capacity mixes: the event loop beside the same in C, a large simulation, and a frontier. */
export async function benchMix(yardstick: number): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), "umbrik-bench-mix-"));
  const beside = `${yardstick.toFixed(0)} ms`;
  const run = (count: number, fanPoints = 0) => simulateStretch(MIX, { seed: 1, days: DAYS, first: 0, count, fanPoints });
  const inC = compiled(folder);
  if (inC) {
    // What commands run is bundled, and that is what is to be fast.
    const thread = new Worker(join(dirname(await madeCli()), "mix-thread.mjs"));
    const inThread = () =>
      answer(thread, { mix: MIX, stretch: { seed: 1, days: DAYS, first: 0, count: LOOP_TRIALS, fanPoints: 0 } });
    holdAgainst(ended(inC, [String(LOOP_TRIALS)]), (await inThread()).outcomes);
    const loop = await medianBeside(
      inThread,
      () => ended(inC, [String(5 * LOOP_TRIALS)]),
      // Ours is another loop before it is compiled; five times as many in C, so that starting its process is no part of it.
      { warm: 5, runs: 15, times: 5 },
    );
    await thread.terminate();
    report({
      name: `event loop, ${LOOP_TRIALS} trials of 200 slots in 6 pools`,
      figure: `${loop.ms.toFixed(0)} ms, ${loop.ratio.toFixed(2)} x the same loop in C (-O2)`,
      target: "2.5 x",
      isMet: loop.ratio <= 2.5,
      yardstick: `C ${loop.besideMs.toFixed(0)} ms`,
    });
  } else console.log("no C compiler: the event loop is not held against C");
  const mix = join(folder, "mix.json");
  writeFileSync(mix, JSON.stringify(MIX));
  const simulate = ["mix", "simulate", "--mix", mix, "--seed", "1", "--days", String(DAYS)];
  const largeMs = medianMs(() => ended("bin/umbrik", [...simulate, "--trials", "10000"]), 1);
  report({
    name: "mix simulate, 10,000 trials x 28 days x 200 slots x 6 pools, on all processors",
    figure: `${(largeMs / 1000).toFixed(1)} s`,
    target: "4 s",
    isMet: largeMs <= 4_000,
    yardstick: beside,
  });
  const choices = join(folder, "choices.json");
  const firm = Array.from({ length: 10 }, (_, i) => i * 20);
  writeFileSync(choices, JSON.stringify({ firm, orders: ["even", "cheapest"], poolSets: SETS }));
  const frontier = ["mix", "frontier", "--mix", mix, "--seed", "1", "--days", "28", "--choices", choices, "--trials", "200"];
  const frontierMs = medianMs(() => ended("bin/umbrik", frontier), 1);
  report({
    name: "mix frontier, 60 points of 200 trials",
    figure: `${(frontierMs / 1000).toFixed(1)} s`,
    target: "6 s",
    isMet: frontierMs <= 6_000,
    yardstick: beside,
  });
  const firstMs = medianMs(() => run(40, 336));
  report({
    name: "the first fan of 200 slots after an edit (40 trials of 28 days)",
    figure: `${firstMs.toFixed(0)} ms`,
    target: "300 ms",
    isMet: firstMs <= 300,
    yardstick: beside,
  });
  const grown = [1_000, 20_000].map((trials) => memoryOf([...simulate, "--trials", String(trials)]));
  const [few = 0, many = 0] = grown;
  report({
    name: "memory of mix simulate, 20,000 trials beside 1,000",
    figure: `${many.toFixed(0)} MB beside ${few.toFixed(0)} MB`,
    target: "flat: 64 bytes a trial",
    isMet: many - few < 40,
    yardstick: beside,
  });
}

const SETS = [["pool-0"], ["pool-0", "pool-1", "pool-2"], RATES.map((_, k) => `pool-${k}`)];

function compiled(folder: string): string | null {
  const program = join(folder, "mix-loop");
  const { status } = spawnSync("cc", ["-O2", "-o", program, "bench/mix-loop.c", "-lm"], { stdio: "ignore" });
  return status === 0 ? program : null;
}

/** The loop in C draws as ours does: it is the same loop only if it comes to the same. */
function holdAgainst(printed: string, outcomes: Outcomes): void {
  const measures = ["evictions", "missingUnitHours", "cost", "longestShortfallHours", "refillMinutes"] as const;
  const inC = printed.trim().split(" ").map(Number);
  for (const [i, measure] of measures.entries()) {
    const [ours, theirs] = [meanOf(outcomes[measure]), inC[i] ?? Number.NaN];
    if (!(Math.abs(ours - theirs) <= 1e-6 * Math.max(1, ours))) throw new Error(`${measure}: ${theirs} in C, ${ours} here`);
  }
}

function ended(program: string, args: readonly string[]): string {
  const { status, stderr, stdout } = spawnSync(program, args, { encoding: "utf8" });
  if (status !== 0) throw new Error(`${program}: ${stderr}`);
  return stdout;
}

/** The most memory of a command, MB. */
function memoryOf(args: readonly string[]): number {
  const report = "--require=./bench/peak.cjs";
  const { status, stderr } = spawnSync("node", [report, "bin/umbrik", ...args], { encoding: "utf8" });
  const peak = /peak (\d+) kB/.exec(stderr);
  if (status !== 0 || !peak) throw new Error(`${stderr}`);
  return Number(peak[1]) / 1024;
}
