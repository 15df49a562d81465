import { basename } from "node:path";
import { fileURLToPath } from "node:url";
import { defineConfig } from "vitest/config";
import { BaseSequencer, type TestSpecification } from "vitest/node";

const alias = { "@": fileURLToPath(new URL("./src", import.meta.url)) };

/** Files that take a minute and more, the longest first: begun last they would keep one core busy while the other waits. */
const LONG = [
  "ready-month",
  "idle-month",
  "weeks",
  "kills",
  "mix-weeks",
  "month",
  "start",
  "mix-months",
  "faults",
  "access",
  "main-job",
  "hours",
].map((name) => `${name}.test.ts`);

/** Begins with the longest files; the others as ever. A fresh clone has no times of its own to go by. */
class LongestFirst extends BaseSequencer {
  override async sort(files: TestSpecification[]): Promise<TestSpecification[]> {
    const placeOf = ({ moduleId }: TestSpecification) => {
      const place = LONG.indexOf(basename(moduleId));
      return place < 0 ? LONG.length : place;
    };
    return [...(await super.sort(files))].sort((a, b) => placeOf(a) - placeOf(b));
  }
}

/** What the yardstick takes on a quick machine that does nothing else. */
const QUICK_MS = 25;

/** How much slower this machine is just now: limits of time are meant for a quick one at rest, and are that much longer here. */
function patience(): number {
  const numbers = Float64Array.from({ length: 300_000 }, (_, i) => (i * 48_271) % 2_147_483_647);
  const times = Array.from({ length: 7 }, () => {
    const from = performance.now();
    numbers.slice().sort();
    return performance.now() - from;
  });
  return Math.max(1, (times.sort((a, b) => a - b)[3] as number) / QUICK_MS);
}

const PATIENCE = patience();

export default defineConfig({
  test: {
    // What goes wrong is told, every round is not.
    env: { UMBRIK_LOG: "warn", UMBRIK_PATIENCE: String(PATIENCE) },
    sequence: { sequencer: LongestFirst },
    projects: [
      {
        resolve: { alias },
        test: {
          name: "unit",
          include: ["src/**/*.test.ts", "standin/**/*.test.ts", "bin/**/*.test.ts"],
          testTimeout: 60_000 * PATIENCE,
          // What they test keeps nothing between calls: loading it once for all of them halves the time.
          isolate: false,
          maxWorkers: 2,
        },
      },
      {
        resolve: { alias },
        test: {
          name: "integration",
          include: ["tests/integration/**/*.test.ts"],
          testTimeout: 60_000 * PATIENCE,
          hookTimeout: 120_000 * PATIENCE,
          // Each file has a database and a world of its own, and waits for both: three at a time keep two cores busy.
          // Each process loads the application once, for all the files that it runs.
          isolate: false,
          maxWorkers: 3,
        },
      },
      {
        resolve: { alias },
        test: {
          name: "browser",
          include: ["tests/browser/**/*.test.ts"],
          testTimeout: 240_000 * PATIENCE,
          hookTimeout: 240_000 * PATIENCE,
          // Each file has an application and a browser of its own.
          maxWorkers: 2,
        },
      },
    ],
  },
});
