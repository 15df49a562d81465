#!/usr/bin/env node
// Everything that must hold, with all the set-up. Usage: npm test [-- --only unit|integration|browser]
import { spawnSync } from "node:child_process";
import { mkdirSync, readFileSync, rmSync } from "node:fs";
import { join, relative } from "node:path";
import { parseArgs } from "node:util";
import { wrongArrows } from "./lib/arrows.mjs";
import { ensureBuild } from "./lib/build.mjs";
import { ensureDebian } from "./lib/debian.mjs";
import { ensurePackages } from "./lib/packages.mjs";
import { ROOT, STATE } from "./lib/paths.mjs";
import { startPostgres } from "./lib/postgres.mjs";
import { giveUp, say } from "./lib/say.mjs";

const { values } = parseArgs({ options: { only: { type: "string" } }, allowPositionals: true });
const projects = values.only ? [values.only] : ["unit", "integration", "browser"];
if (!projects.every((name) => ["unit", "integration", "browser"].includes(name)))
  giveUp(`--only ${values.only}: expected unit, integration or browser`, 2);

let passed = 0;
let failed = 0;
/** What failed, by name: said again at the end, where whoever looks first finds it. */
const failures = [];

ensurePackages();
const needsServer = projects.some((name) => name !== "unit");
ensureDebian({
  needsPostgres: needsServer,
  needsBrowser: projects.includes("browser"),
  needsPrometheus: projects.includes("integration"),
});

if (!values.only) {
  check("lint", () => run("node_modules/.bin/biome", ["check", "--error-on-warnings", "."]));
  check("types", () => run("node_modules/.bin/tsc", ["--noEmit"]));
  check("arrows between folders", () => {
    const wrong = wrongArrows();
    for (const line of wrong) console.error(line);
    return wrong.length === 0;
  });
}

const folder = join(STATE, "test");
mkdirSync(folder, { recursive: true });
let postgres = null;
try {
  if (needsServer) postgres = await startPostgres(folder, { isForTests: true });
  if (projects.includes("browser")) await ensureBuild();
  for (const project of projects) runTests(project);
} catch (error) {
  console.error(error);
  failed++;
} finally {
  postgres?.stop();
}

for (const failure of failures) console.error(`FAILED: ${failure}`);
console.log(`${passed} passed, ${failed} failed`);
process.exitCode = failed === 0 ? 0 : 1;

function check(name, holds) {
  say(`checking ${name}`);
  if (holds()) passed++;
  else {
    failed++;
    failures.push(name);
  }
}

function firstLines(text = "") {
  return text.split("\n").slice(0, 4).join(" ");
}

function run(program, args, env = {}) {
  return (
    spawnSync(join(ROOT, program), args, { cwd: ROOT, stdio: ["ignore", "inherit", "inherit"], env: { ...process.env, ...env } })
      .status === 0
  );
}

function runTests(project) {
  say(`testing: ${project}`);
  const report = join(folder, `${project}.json`);
  rmSync(report, { force: true });
  const env = { UMBRIK_TEST_SERVER: postgres?.url ?? "", NEXT_TELEMETRY_DISABLED: "1" };
  const isFine = run(
    "node_modules/.bin/vitest",
    ["run", "--project", project, "--reporter=default", "--reporter=json", `--outputFile.json=${report}`],
    env,
  );
  const { numPassedTests, numFailedTests, testResults } = JSON.parse(readFileSync(report, "utf8"));
  for (const { name, assertionResults, message } of testResults.filter(({ status }) => status === "failed")) {
    const some = assertionResults.filter(({ status }) => status === "failed");
    for (const { fullName, failureMessages } of some)
      failures.push(`${relative(ROOT, name)} > ${fullName}: ${firstLines(failureMessages[0])}`);
    if (some.length === 0) failures.push(`${relative(ROOT, name)}: ${firstLines(message)}`);
  }
  passed += numPassedTests;
  // A file that breaks before its first test counts too.
  failed += isFine ? numFailedTests : Math.max(1, numFailedTests);
}
