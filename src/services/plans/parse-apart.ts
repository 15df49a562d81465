import { type FileResult, type PlanFile, parsePlanFile } from "@/core/plan";
import { openThread, RefusedError, TooHeavyError } from "../admin";

/** A text of so many characters is read where it stands; a longer one would keep everybody else waiting. */
export const AT_ONCE_MAX = 16_000;
const WITHIN_MS = 20_000;
const MEMORY_MB = 512;

/** One after the other: several at once would only wait for one another. */
let queue: Promise<unknown> = Promise.resolve();

/**
 * Reads a plan file, a long one in a thread of its own, so that other requests are answered meanwhile. Throws a
 * RefusedError where that takes longer than 20 s or half a GB.
 */
export async function parsePlanApart(text: string): Promise<FileResult<PlanFile>> {
  if (text.length <= AT_ONCE_MAX) return parsePlanFile(text);
  const turn = queue.then(() => apart(text));
  queue = turn.catch(() => {});
  return turn;
}

async function apart(text: string): Promise<FileResult<PlanFile>> {
  const thread = await openThread<string, FileResult<PlanFile>>("services/plans/parse-thread", MEMORY_MB);
  try {
    return await thread.ask(text, { withinMs: WITHIN_MS });
  } catch (error) {
    if (!(error instanceof TooHeavyError)) throw error;
    throw new RefusedError("invalid", "The plan file takes too long to check. Nothing is changed; take it in in parts.");
  } finally {
    await thread.close();
  }
}
