import { spawn } from "node:child_process";
import { join } from "node:path";
import { pathToFileURL } from "node:url";
import { ROOT } from "./paths.mjs";

const STOP_WITHIN_MS = 8000;
const TIED = pathToFileURL(join(ROOT, "bin/lib/tied.mjs")).href;

/** Runs a TypeScript file with the packages' own loader. */
export function typescript(file, args = []) {
  return ["--import", "tsx", join(ROOT, file), ...args];
}

/** Starts Node on `args`. `firstLine` is its first line of output, or a rejection when it ends before one. */
export function startNode(args, env = {}) {
  const child = spawn(process.execPath, ["--import", TIED, ...args], {
    cwd: ROOT,
    stdio: ["ignore", "pipe", "pipe", "pipe"],
    detached: true,
    env: { ...process.env, ...env },
  });
  let errors = "";
  child.stderr.on("data", (part) => {
    errors = (errors + part).slice(-4000);
    process.stderr.write(part);
  });
  const ended = new Promise((resolve) => child.once("exit", resolve));
  // It has a process group of its own: were this process ended while others are still starting, it would stay behind.
  const letGo = () => child.kill("SIGTERM");
  process.once("exit", letGo);
  ended.then(() => process.off("exit", letGo));
  const firstLine = new Promise((resolve, reject) => {
    let text = "";
    child.stdout.on("data", (part) => {
      text += part;
      const end = text.indexOf("\n");
      if (end >= 0) resolve(text.slice(0, end));
    });
    child.once("exit", (code) => reject(new Error(`${args.at(-1)} ended with ${code}: ${errors.trim().split("\n").at(-1)}`)));
  });
  firstLine.catch(() => {});
  return { child, ended, firstLine, stop: () => stopChild(child, ended) };
}

/** Node's code for an end with a promise at the top that nothing will settle any more. */
const UNSETTLED = 13;

/** Runs Node on `args` to its end; throws an Error that says how it ended where that was not well. It ends with this process, whatever becomes of that. */
export async function runNode(args, env = {}) {
  const child = spawn(process.execPath, ["--import", TIED, ...args], {
    cwd: ROOT,
    stdio: ["ignore", 2, 2, "pipe"],
    env: { ...process.env, ...env },
  });
  const [code, signal] = await new Promise((resolve) => child.once("exit", (...how) => resolve(how)));
  if (code === 0) return;
  const how = signal
    ? `was ended by ${signal}`
    : code === UNSETTLED
      ? "ended while it still waited for something"
      : `ended with ${code}`;
  throw new Error(`${args.find((arg) => !arg.startsWith("-") && arg !== "tsx")} ${how}`);
}

async function stopChild(child, ended) {
  if (child.exitCode !== null || child.signalCode !== null) return;
  child.kill("SIGTERM");
  const timer = setTimeout(() => child.kill("SIGKILL"), STOP_WITHIN_MS);
  await ended;
  clearTimeout(timer);
}
