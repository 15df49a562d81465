import { join } from "node:path";
import { Worker } from "node:worker_threads";

/** What a thread was given took longer, or more memory, than it may. */
export class TooHeavyError extends Error {}
/** Whoever asked wants no answer any more. */
export class CutOffError extends Error {}

export type Limits = Readonly<{ withinMs: number; signal?: AbortSignal }>;

/** A thread that answers one question after another. */
export type Thread<Question, Answer> = Readonly<{
  ask: (question: Question, limits: Limits) => Promise<Answer>;
  close: () => Promise<void>;
}>;

const codes = new Map<string, Promise<string>>();

/**
 * A thread that runs `src/${entry}.ts`, which answers each message with one. A question that takes too long, or more memory than
 * the thread has, ends it (TooHeavyError), and so does a signal that it is not wanted any more (CutOffError); whatever else the
 * process does goes on meanwhile.
 */
export async function openThread<Question, Answer>(entry: string, memoryMb: number): Promise<Thread<Question, Answer>> {
  const code = codes.get(entry) ?? threadCode(entry);
  codes.set(entry, code);
  const worker = new Worker(await code, { eval: true, resourceLimits: { maxOldGenerationSizeMb: memoryMb } });
  const ask = (question: Question, { withinMs, signal }: Limits) =>
    new Promise<Answer>((resolve, reject) => {
      const fail = (error: Error) => {
        end();
        void worker.terminate();
        reject(error);
      };
      const onMessage = (answer: Answer) => {
        end();
        resolve(answer);
      };
      const onError = (error: Error) =>
        fail(
          (error as NodeJS.ErrnoException).code === "ERR_WORKER_OUT_OF_MEMORY"
            ? new TooHeavyError(`it takes more than ${memoryMb} MB of memory`)
            : error,
        );
      const onExit = (status: number) => fail(new Error(`its thread ended with ${status}`));
      const onAbort = () => fail(new CutOffError("it is not wanted any more"));
      const timer = setTimeout(() => fail(new TooHeavyError(`it takes longer than ${withinMs / 1000} s`)), withinMs);
      const end = () => {
        clearTimeout(timer);
        worker.off("message", onMessage);
        worker.off("error", onError);
        worker.off("exit", onExit);
        signal?.removeEventListener("abort", onAbort);
      };
      worker.on("message", onMessage);
      worker.on("error", onError);
      worker.on("exit", onExit);
      signal?.addEventListener("abort", onAbort);
      if (signal?.aborted) onAbort();
      else worker.postMessage(question);
    });
  return {
    ask,
    close: async () => {
      await worker.terminate();
    },
  };
}

/** The thread's code with all it needs, made once: a thread does not read TypeScript. */
async function threadCode(entry: string): Promise<string> {
  const { build } = await import("esbuild");
  const { outputFiles } = await build({
    entryPoints: [join(process.cwd(), `src/${entry}.ts`)],
    tsconfig: join(process.cwd(), "tsconfig.json"),
    bundle: true,
    platform: "node",
    format: "cjs",
    write: false,
    logLevel: "error",
  });
  return outputFiles[0]?.text ?? "";
}
