import { join } from "node:path";
import { Worker } from "node:worker_threads";
import { type FileResult, type PlanFile, parsePlanFile } from "@/core/plan";
import { RefusedError } from "../admin";

/** A text of so many characters is read where it stands; a longer one would keep everybody else waiting. */
const AT_ONCE_MAX = 16_000;
const WITHIN_MS = 20_000;
const MEMORY_MB = 512;

/** One after the other: several at once would only wait for one another. */
let queue: Promise<unknown> = Promise.resolve();
let code: Promise<string> | null = null;

/**
 * Reads a plan file, a long one in a thread of its own, so that other requests are answered meanwhile. Throws a
 * RefusedError where that takes longer than 20 s or half a GB.
 */
export async function parsePlanApart(text: string): Promise<FileResult<PlanFile>> {
  if (text.length <= AT_ONCE_MAX) return parsePlanFile(text);
  const turn = queue.then(() => inThread(text));
  queue = turn.catch(() => {});
  return turn;
}

async function inThread(text: string): Promise<FileResult<PlanFile>> {
  code ??= threadCode();
  const worker = new Worker(await code, { eval: true, workerData: text, resourceLimits: { maxOldGenerationSizeMb: MEMORY_MB } });
  const tooHeavy = () =>
    new RefusedError("invalid", "The plan file takes too long to check. Nothing is changed; take it in in parts.");
  try {
    return await new Promise((resolve, reject) => {
      const timer = setTimeout(() => reject(tooHeavy()), WITHIN_MS);
      worker.once("message", resolve);
      worker.once("error", (error) =>
        reject((error as NodeJS.ErrnoException).code === "ERR_WORKER_OUT_OF_MEMORY" ? tooHeavy() : error),
      );
      worker.once("exit", () => clearTimeout(timer));
    });
  } finally {
    await worker.terminate();
  }
}

/** The thread's code with all it needs, made once: a thread does not read TypeScript. */
async function threadCode(): Promise<string> {
  const { build } = await import("esbuild");
  const { outputFiles } = await build({
    entryPoints: [join(process.cwd(), "src/services/plans/parse-thread.ts")],
    tsconfig: join(process.cwd(), "tsconfig.json"),
    bundle: true,
    platform: "node",
    format: "cjs",
    write: false,
    logLevel: "error",
  });
  return outputFiles[0]?.text ?? "";
}
