import { mkdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";

const WAIT_MS = 100;
const PATIENCE_MS = 15_000;

/** Takes a world's folder for this process alone; one that is on its way out is waited for. Throws where another keeps it. */
export function takeFolder(folder: string): () => void {
  mkdirSync(folder, { recursive: true });
  const file = join(folder, "keeper.pid");
  const until = Date.now() + PATIENCE_MS;
  while (isKept(file)) {
    if (Date.now() > until) throw new Error(`${folder}: another stand-in keeps this world`);
    Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, WAIT_MS);
  }
  writeFileSync(file, String(process.pid));
  return () => rmSync(file, { force: true });
}

/** True where the process that wrote the file is a stand-in still; its number may have gone to another since. */
function isKept(file: string): boolean {
  try {
    const pid = Number(readFileSync(file, "utf8"));
    return pid !== process.pid && readFileSync(`/proc/${pid}/cmdline`, "utf8").includes("standin");
  } catch {
    return false;
  }
}
