#!/usr/bin/env node
// Renews docs/screenshots from the demo data. Usage: npm run screenshots
import { runWithServer } from "./lib/server.mjs";

await runWithServer("tests/support/screenshots.ts", {
  folder: "test",

  failure: "the pictures could not be taken",
});
