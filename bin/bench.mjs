#!/usr/bin/env node
// Prints every figure beside its target and its yardstick. Usage: npm run bench
import { runWithServer } from "./lib/server.mjs";

await runWithServer("bench/main.ts", {
  folder: "bench",
  failure: "a figure missed its target, or a benchmark broke; the lines above say which",
});
