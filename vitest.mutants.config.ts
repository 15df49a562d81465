import { fileURLToPath } from "node:url";
import { defineConfig } from "vitest/config";

/** The tests that hold the lines on which stops and money rest: `npm run mutants` changes those lines one by one. */
export default defineConfig({
  resolve: { alias: { "@": fileURLToPath(new URL("./src", import.meta.url)) } },
  test: {
    include: ["src/core/rounds/*.test.ts", "src/core/pricing/*.test.ts", "tests/integration/lead-and-send.test.ts"],
    testTimeout: 60_000,
    isolate: false,
  },
});
