import { Readable } from "node:stream";
import { TextDecoder } from "node:util";
import { createGunzip } from "node:zlib";
import { delimiterOf, lineEnds } from "@/core/focus";
import { RefusedError } from "../admin";

const HEADER_MAX = 1 << 20;

/** What a file begins with that is no CSV, as Latin-1. */
const KINDS: readonly Readonly<{ begins: string; what: string }>[] = [
  { begins: "PK\x03\x04", what: "The file is a ZIP archive or a workbook: unpack it, or save it as CSV" },
  { begins: "PAR1", what: "The file is Parquet: export it as CSV" },
  { begins: "BZh", what: "The file is packed with bzip2: unpack it, or pack it with gzip" },
  { begins: "\xfd7zXZ", what: "The file is packed with xz: unpack it, or pack it with gzip" },
  { begins: "\x28\xb5\x2f\xfd", what: "The file is packed with zstd: unpack it, or pack it with gzip" },
];

/**
 * A file as it comes, as one kind of text: unpacked where it is gzip, UTF-8 without a mark whether it was UTF-8 or
 * UTF-16, each line ended by LF. Throws a RefusedError, before anything is read, where it is of another kind, and at the
 * place where it is not what it says.
 */
export async function* plainText(bytes: AsyncIterable<Uint8Array>): AsyncGenerator<string> {
  const { begins, all } = await peek(bytes, 6);
  const isGzip = begins.startsWith("\x1f\x8b");
  yield* oneLineEnd(decoded(isGzip ? unpacked(all) : all));
}

/** Looks at the first bytes, as Latin-1, and gives them back with the others. */
async function peek(
  bytes: AsyncIterable<Uint8Array>,
  count: number,
): Promise<Readonly<{ begins: string; all: AsyncIterable<Uint8Array> }>> {
  const source = bytes[Symbol.asyncIterator]();
  let first = Buffer.alloc(0);
  let isDone = false;
  while (!isDone && first.length < count) {
    const next = await source.next();
    isDone = next.done === true;
    if (!next.done) first = Buffer.concat([first, next.value]);
  }
  async function* all(): AsyncGenerator<Uint8Array> {
    try {
      if (first.length > 0) yield first;
      for (;;) {
        const next = isDone ? ({ done: true } as const) : await source.next();
        if (next.done) return;
        yield next.value;
      }
    } finally {
      await source.return?.();
    }
  }
  return { begins: first.subarray(0, count).toString("latin1"), all: all() };
}

async function* unpacked(bytes: AsyncIterable<Uint8Array>): AsyncGenerator<Uint8Array> {
  const gunzip = createGunzip();
  const source = Readable.from(bytes, { objectMode: false });
  source.on("error", (error) => gunzip.destroy(error));
  try {
    for await (const piece of source.pipe(gunzip)) yield piece as Buffer;
  } catch (error) {
    const { code } = error as { code?: unknown };
    if (typeof code === "string" && code.startsWith("Z_"))
      throw new RefusedError("invalid", "The file is packed with gzip, and broken or cut off. Nothing was kept of it.");
    throw error;
  } finally {
    source.destroy();
    gunzip.destroy();
  }
}

async function* decoded(bytes: AsyncIterable<Uint8Array>): AsyncGenerator<string> {
  const { begins, all } = await peek(bytes, 6);
  const kind = KINDS.find((one) => begins.startsWith(one.begins));
  if (kind) throw new RefusedError("invalid", `${kind.what}. Nothing was kept of it.`);
  const encoding = begins.startsWith("\xff\xfe") ? "utf-16le" : begins.startsWith("\xfe\xff") ? "utf-16be" : "utf-8";
  const decoder = new TextDecoder(encoding, { fatal: true });
  let lines = 1;
  const read = (piece?: Uint8Array): string => {
    try {
      return piece ? decoder.decode(piece, { stream: true }) : decoder.decode();
    } catch {
      const name = encoding === "utf-8" ? "UTF-8 (nor UTF-16)" : "UTF-16";
      const before = piece ? (new TextDecoder(encoding).decode(piece).split("\uFFFD", 1)[0] as string) : "";
      const line = lines + before.split("\n").length - 1;
      throw new RefusedError("invalid", `Line ${line} of the file is no ${name}: save it as UTF-8. Nothing was kept of it.`);
    }
  };
  for await (const piece of all) {
    const text = read(piece);
    for (let at = text.indexOf("\n"); at >= 0; at = text.indexOf("\n", at + 1)) lines++;
    if (text !== "") yield text;
  }
  const last = read();
  if (last !== "") yield last;
}

async function* oneLineEnd(texts: AsyncIterable<string>): AsyncGenerator<string> {
  let head = "";
  let plain: ((piece: string, isLast: boolean) => string) | null = null;
  for await (const text of texts) {
    head += text;
    if (!plain && !/[\r\n]/.test(head) && head.length < HEADER_MAX) continue;
    plain ??= lineEnds(delimiterOf(head.split(/[\r\n]/, 1)[0] as string));
    const piece = plain(head, false);
    head = "";
    if (piece !== "") yield piece;
  }
  const end = plain ? plain(head, true) : head;
  if (end !== "") yield end;
}
