import { setImmediate as turn } from "node:timers/promises";
import Papa from "papaparse";
import type { LineReader } from "@/core/focus";
import { REFUSALS_KEPT, type Refusal, usageCopyLine } from "@/store";

export type Taking = Readonly<{
  id: number;
  read: LineReader;
  newline: "\n" | "\r\n";
  /** The text ends the file: its last record needs no end of line. */
  isLast: boolean;
  /** The number of the first record in the file, and how many were refused before it. */
  firstLine: number;
  refusedBefore: number;
}>;

export type Taken = Readonly<{
  /** Lines as the database copies them. */
  copy: string;
  taken: number;
  days: ReadonlySet<string>;
  refusals: readonly Refusal[];
  refused: number;
  /** How much of the text was whole records, in characters, and how many there were. */
  used: number;
  lines: number;
}>;

/**
 * Takes the whole records of a stretch of a file. Between bites others have their turn: the stretch
 * before is being stored meanwhile.
 */
export async function takeStretch(text: string, { id, read, newline, isLast, firstLine, refusedBefore }: Taking): Promise<Taken> {
  const copy: string[] = [];
  const days = new Set<string>();
  const refusals: Refusal[] = [];
  let refused = 0;
  let lines = 0;
  let used = 0;
  for (const bite of bites(text, { newline, isLast })) {
    for (const cells of bite.records) {
      const number = firstLine + lines++;
      if (cells.length === 1 && cells[0] === "") continue;
      const result = read(cells);
      if (result.ok) {
        days.add(result.line.day);
        copy.push(usageCopyLine(id, String(number), result.line));
        continue;
      }
      refused++;
      if (refusedBefore + refusals.length < REFUSALS_KEPT)
        refusals.push({ line: number, reason: result.reason, text: cells.join(",").slice(0, 300).replaceAll("\0", "") });
    }
    used = bite.end;
    await turn();
  }
  return { copy: copy.join(""), taken: copy.length, days, refusals, refused, used, lines };
}

const BITE = 1 << 16;

/** The whole records of a text, some at a time: what is done with soon is forgotten cheaply. `end` is where they end. */
function* bites(
  text: string,
  { newline, isLast }: Pick<Taking, "newline" | "isLast">,
): Generator<Readonly<{ records: readonly (readonly string[])[]; end: number }>> {
  let start = 0;
  for (let size = BITE; start < text.length; ) {
    const end = Math.min(text.length, start + size);
    const isEnd = isLast && end === text.length;
    const { data, meta } = new Papa.Parser({ delimiter: ",", newline }).parse(text.slice(start, end), 0, !isEnd);
    const records = data as string[][];
    const next = isEnd ? end : start + meta.cursor;
    if (next > start) {
      // The end of the last line begins no other.
      const last = records.at(-1);
      const isClosed = isEnd && text.endsWith("\n") && last?.length === 1 && last[0] === "";
      yield { records: isClosed ? records.slice(0, -1) : records, end: next };
      start = next;
      size = BITE;
    } else if (end === text.length) {
      return;
    } else {
      // A record that is longer than the bite.
      size *= 2;
    }
  }
}
