import { createHash } from "node:crypto";
import { StringDecoder } from "node:string_decoder";
import Papa from "papaparse";
import { type Delimiter, delimiterOf, headerIssues, type LineReader, lineReader } from "@/core/focus";
import {
  accountList,
  addJob,
  beginImport,
  chunksFrom,
  dropChunks,
  endArrival,
  endImport,
  eraseImport,
  forgetArrival,
  importList,
  maybeImport,
  moveImport,
  type Refusal,
  refusalList,
  saveChunk,
  saveHeader,
  saveStep,
  signal,
  type UsageImport,
} from "@/store";
import { type Actor, authorise, ESTATE, RefusedError, type Services } from "../admin";
import { capabilitiesByAccount } from "../inventory";
import { plainText } from "./arriving";
import { takeStretch } from "./take-stretch";

const CHUNK = 1 << 19;
const NEWLINE = 0x0a;
/** A record longer than this has an open quote in it. */
const RECORD_MAX = 1 << 20;
const FILE_MAX = 20 * 2 ** 30;
const SIGNAL_EVERY_MS = 300;

/** Takes a file in, as it comes, and puts it on the queue unless the caller reads it itself. Refused where the same file counts already. */
export async function receiveImport(
  services: Services,
  actor: Actor,
  { fileName, bytes, isQueued = true }: { fileName: string; bytes: AsyncIterable<Uint8Array>; isQueued?: boolean },
): Promise<number> {
  authorise(actor, "import", ESTATE);
  const { pool } = services;
  const { now } = await services.clock.read();
  const id = await beginImport(pool, { fileName: fileName.slice(0, 200), person: actor.name, at: now });
  try {
    const same = await endArrival(pool, id, await storeChunks(services, id, bytes));
    if (same) {
      throw new RefusedError(
        "name_taken",
        `This file counts already, as import ${same.sameAs}. Nothing was taken in twice; take that one back first to replace it.`,
      );
    }
  } catch (error) {
    await forgetArrival(pool, id);
    throw error;
  }
  if (isQueued) await addJob(pool, "import", { payload: { id }, key: `import ${id}` });
  await signal(pool, "usage");
  return id;
}

type Arrived = Readonly<{ digest: string; digestAsItCame: string; sizeBytes: number }>;

async function storeChunks({ pool }: Services, id: number, bytes: AsyncIterable<Uint8Array>): Promise<Arrived> {
  const asItCame = createHash("sha256");
  const ofLines = createHash("sha256");
  let sizeBytes = 0;
  let waiting: Uint8Array[] = [];
  let held = 0;
  let n = 0;
  let saving: Promise<void> = Promise.resolve();
  // While one piece is stored the next arrives.
  const flush = async () => {
    await saving;
    if (held > 0) saving = saveChunk(pool, id, { n: n++, bytes: Buffer.concat(waiting) });
    saving.catch(() => {});
    waiting = [];
    held = 0;
  };
  async function* passing(): AsyncGenerator<Uint8Array> {
    for await (const part of bytes) {
      asItCame.update(part);
      yield part;
    }
  }
  // How many empty lines a file ends with makes no other file of it.
  let ends = 0;
  for await (const text of plainText(passing())) {
    const part = Buffer.from(text);
    let length = part.length;
    while (length > 0 && part[length - 1] === NEWLINE) length--;
    if (length > 0) {
      for (; ends > 0; ends -= Math.min(ends, CHUNK)) ofLines.update("\n".repeat(Math.min(ends, CHUNK)));
      ofLines.update(part.subarray(0, length));
    }
    ends += part.length - length;
    sizeBytes += part.length;
    if (sizeBytes > FILE_MAX) throw new RefusedError("invalid", "The file is larger than 20 GiB. Nothing was kept of it.");
    for (let at = 0; at < part.length; at += CHUNK) {
      const piece = part.subarray(at, at + CHUNK);
      waiting.push(piece);
      held += piece.length;
      if (held >= CHUNK) await flush();
    }
  }
  await flush();
  await saving;
  if (sizeBytes === 0) throw new RefusedError("invalid", "The file is empty.");
  return { digest: ofLines.digest("hex"), digestAsItCame: asItCame.digest("hex"), sizeBytes };
}

/**
 * Reads a file that has arrived, stretch by stretch, each stored with how far it got; so that after a
 * crash it goes on where it was, and counts nothing twice. Ends between stretches when cancelled or
 * told to stop. Says so where another run of it is under way.
 */
export async function runImport(services: Services, actor: Actor, id: number, stopping?: AbortSignal): Promise<UsageImport> {
  authorise(actor, "work", ESTATE);
  const { pool } = services;
  await moveImport(pool, id, { from: ["waiting"], to: "running" });
  const started = await maybeImport(pool, id);
  if (!started) throw new RefusedError("not_found", `There is no import ${id}.`);
  if (started.status !== "running") return started;
  const problem = await readThrough(services, started, stopping);
  if (problem !== null) {
    await moveImport(pool, id, { from: ["running"], to: "refused", error: problem });
    await dropChunks(pool, id);
  }
  await signal(pool, "usage");
  return (await maybeImport(pool, id)) as UsageImport;
}

type Head = Readonly<{ header: readonly string[]; read: LineReader; delimiter: Delimiter }>;

/** Null when all was read, or the import is no longer this run's; what is wrong with the file as a whole otherwise. */
async function readThrough(services: Services, { id, ...from }: UsageImport, stopping?: AbortSignal): Promise<string | null> {
  const { pool } = services;
  const currency = [...capabilitiesByAccount(await accountList(pool)).values()][0]?.currency ?? "EUR";
  let head = from.bytesDone === 0 ? null : await headAgain(services, id, currency);
  let { bytesDone, linesDone, linesRefused } = from;
  const decoder = new StringDecoder("utf8");
  let rest = "";
  let pending: Promise<boolean> = Promise.resolve(true);
  let signalledAt = 0;

  const step = async (text: string, isLast: boolean): Promise<string | "gone" | null> => {
    if (!head) {
      const first = headOf(text, isLast);
      if (first === null) {
        rest = text;
        return text.length > RECORD_MAX ? "the first line is longer than a million characters" : null;
      }
      if (first.issues.length > 0) return first.issues.join("; ");
      head = { header: first.header, read: lineReader(first.header, currency), delimiter: first.delimiter };
      bytesDone = Buffer.byteLength(text.slice(0, first.length));
      linesDone = 1;
      await saveHeader(pool, id, { header: first.header, currency, bytesDone });
      text = text.slice(first.length);
    }
    const { used, lines, ...taken } = await takeStretch(text, {
      ...head,
      id,
      isLast,
      firstLine: linesDone + 1,
      refusedBefore: linesRefused,
    });
    rest = text.slice(used);
    if (rest.length > RECORD_MAX)
      return `line ${linesDone + lines + 1}: a quote that is opened there is not closed within a million characters`;
    const bytesBefore = bytesDone;
    bytesDone += Buffer.byteLength(text.slice(0, used));
    linesDone += lines;
    linesRefused += taken.refused;
    // While the database stores one stretch the next is read already; they are stored in order.
    if (!(await pending)) return "gone";
    pending = saveStep(pool, id, { ...taken, bytesBefore, bytesDone, linesDone });
    pending.catch(() => {});
    // Whoever watches the progress sees it move; more often is for nobody.
    if (performance.now() - signalledAt > SIGNAL_EVERY_MS) {
      signalledAt = performance.now();
      await signal(pool, "usage");
    }
    return null;
  };

  for await (const chunk of chunksFrom(pool, id, bytesDone)) {
    if (stopping?.aborted) {
      await pending;
      return null;
    }
    const problem = await step(rest + decoder.write(chunk), false);
    if (problem !== null) {
      await pending;
      return problem === "gone" ? null : problem;
    }
  }
  const problem = await step(rest + decoder.end(), true);
  if (problem !== null) return problem === "gone" ? null : problem;
  if (!head) return "the file has no header line";
  if (await pending) await endImport(pool, id);
  return null;
}

/** The header of a file that is gone on with. */
async function headAgain({ pool }: Services, id: number, currency: string): Promise<Head> {
  for await (const chunk of chunksFrom(pool, id, 0)) {
    const first = headOf(chunk.toString("utf8"), true);
    if (first) return { header: first.header, read: lineReader(first.header, currency), delimiter: first.delimiter };
  }
  throw new Error(`import ${id} is under way and has no file`);
}

type FirstLine = Readonly<{ header: readonly string[]; issues: readonly string[]; length: number; delimiter: Delimiter }>;

/** The header of a file, once it is there whole. */
function headOf(text: string, isLast: boolean): FirstLine | null {
  const end = text.indexOf("\n");
  if (end < 0 && !isLast) return null;
  const length = end < 0 ? text.length : end + 1;
  const line = text.slice(0, length).trimEnd();
  const delimiter = delimiterOf(line);
  const { data } = new Papa.Parser({ delimiter, newline: "\n" }).parse(line, 0, false);
  const header = ((data as string[][])[0] ?? []).map((name) => name.trim());
  return { header, issues: headerIssues(header), length, delimiter };
}

/** Stops an import that is under way; what it stored is taken away again. */
export async function cancelImport(services: Services, actor: Actor, id: number): Promise<void> {
  authorise(actor, "import", ESTATE);
  const isMoved = await moveImport(services.pool, id, { from: ["waiting", "running"], to: "taking back" });
  if (!isMoved) throw new RefusedError("invalid", `Import ${id} is not under way.`);
  await askToErase(services, id);
}

/** Takes a whole import back: every line of it, as if it had never come. */
export async function takeBackImport(services: Services, actor: Actor, id: number): Promise<void> {
  authorise(actor, "import", ESTATE);
  const isMoved = await moveImport(services.pool, id, { from: ["done"], to: "taking back" });
  if (!isMoved) throw new RefusedError("invalid", `Import ${id} is not one that can be taken back.`);
  await askToErase(services, id);
}

async function askToErase({ pool }: Services, id: number): Promise<void> {
  await addJob(pool, "import-erase", { payload: { id }, key: `erase ${id}` });
  await signal(pool, "usage");
}

/** Takes away what an import stored, once somebody asked for it. */
export async function runErase(services: Services, actor: Actor, id: number): Promise<void> {
  authorise(actor, "work", ESTATE);
  await eraseImport(services.pool, id);
  await signal(services.pool, "usage");
}

/** Puts imports that a process left half-way on the queue again; for the start of a worker. */
export async function resumeImports({ pool }: Services, actor: Actor): Promise<number> {
  authorise(actor, "work", ESTATE);
  const left = (await importList(pool)).filter(({ status }) => status === "running" || status === "waiting");
  // A key of its own: the old job may still count as locked by the process that died.
  for (const { id, bytesDone } of left) await addJob(pool, "import", { payload: { id }, key: `import ${id} from ${bytesDone}` });
  return left.length;
}

export type OpenImport = Readonly<{ one: UsageImport; refusals: readonly Refusal[] }>;

export async function openImport(services: Services, actor: Actor, id: number): Promise<OpenImport> {
  authorise(actor, "look", ESTATE);
  const one = await maybeImport(services.pool, id);
  if (!one) throw new RefusedError("not_found", `There is no import ${id}.`);
  return { one, refusals: await refusalList(services.pool, id) };
}

export async function imports(services: Services, actor: Actor): Promise<UsageImport[]> {
  authorise(actor, "look", ESTATE);
  return importList(services.pool);
}
