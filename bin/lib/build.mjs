import { createHash } from "node:crypto";
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { ROOT, STATE } from "./paths.mjs";
import { runNode } from "./processes.mjs";
import { say } from "./say.mjs";

/** Builds the web application, unless what is built comes from exactly these sources. */
export async function ensureBuild() {
  const stamp = join(STATE, "build.sha");
  const wanted = sourcesHash();
  const isBuilt = existsSync(join(ROOT, ".next/BUILD_ID")) && existsSync(stamp) && readFileSync(stamp, "utf8") === wanted;
  if (isBuilt) return;
  say("building the application (once, about a minute)");
  await runNode([join(ROOT, "node_modules/next/dist/bin/next"), "build"], {
    NEXT_TELEMETRY_DISABLED: "1",
    NODE_ENV: "production",
  });
  mkdirSync(STATE, { recursive: true });
  writeFileSync(stamp, wanted);
}

function sourcesHash() {
  const hash = createHash("sha256");
  const add = (path) => hash.update(path).update(readFileSync(join(ROOT, path)));
  // What styles are made of leaves out what is ignored.
  for (const file of [".gitignore", "package-lock.json", "next.config.ts", "tsconfig.json", "postcss.config.mjs"]) add(file);
  for (const entry of readdirSync(join(ROOT, "src"), { recursive: true, withFileTypes: true }).sort((a, b) =>
    pathOf(a) < pathOf(b) ? -1 : 1,
  )) {
    if (entry.isFile() && !entry.name.endsWith(".test.ts")) add(pathOf(entry));
  }
  return hash.digest("hex");
}

function pathOf(entry) {
  return join(entry.parentPath, entry.name).slice(ROOT.length + 1);
}
