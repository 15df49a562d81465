import { fileURLToPath } from "node:url";
import { defineConfig } from "vitest/config";

const alias = { "@": fileURLToPath(new URL("./src", import.meta.url)) };

export default defineConfig({
  test: {
    // What goes wrong is told, every round is not.
    env: { UMBRIK_LOG: "warn" },
    projects: [
      {
        resolve: { alias },
        test: {
          name: "unit",
          include: ["src/**/*.test.ts", "standin/**/*.test.ts", "bin/**/*.test.ts"],
          testTimeout: 60_000,
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
          testTimeout: 60_000,
          hookTimeout: 120_000,
          // Each file has a database and a world of its own, and waits for both: three at a time keep two cores busy.
          maxWorkers: 3,
        },
      },
      {
        resolve: { alias },
        test: {
          name: "browser",
          include: ["tests/browser/**/*.test.ts"],
          testTimeout: 240_000,
          hookTimeout: 240_000,
          // Each file has an application and a browser of its own.
          maxWorkers: 2,
        },
      },
    ],
  },
});
