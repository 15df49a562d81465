import { setImmediate as turn } from "node:timers/promises";
import Papa from "papaparse";
import type { Delimiter, LineReader } from "@/core/focus";
import { DAY_S, formatDate } from "@/core/time";
import { REFUSALS_KEPT, type Refusal, usageCopyLine } from "@/store";

export type Taking = Readonly<{
  id: number;
  read: LineReader;
  delimiter: Delimiter;
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
  /** The days that lines begin on. */
  days: ReadonlySet<string>;
  /** The last day that a charge covers, and how many days the longest of them covers. */
  lastDay: string | null;
  lastsDays: number;
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
export async function takeStretch(
  text: string,
  { id, read, delimiter, isLast, firstLine, refusedBefore }: Taking,
): Promise<Taken> {
  const copy: string[] = [];
  const days = new Set<string>();
  const refusals: Refusal[] = [];
  let lastDay = Number.NEGATIVE_INFINITY;
  let lastsDays = 1;
  let refused = 0;
  let lines = 0;
  let used = 0;
  for (const bite of bites(text, { delimiter, isLast })) {
    for (const cells of bite.records) {
      const number = firstLine + lines++;
      if (cells.length === 1 && cells[0] === "") continue;
      const result = read(cells);
      if (result.ok) {
        const { day, from, to } = result.line;
        days.add(day);
        const ends = Math.floor((to - 1) / DAY_S);
        if (ends > lastDay) lastDay = ends;
        const lasts = ends - Math.floor(from / DAY_S) + 1;
        if (lasts > lastsDays) lastsDays = lasts;
        copy.push(usageCopyLine(id, String(number), result.line));
        continue;
      }
      refused++;
      if (refusedBefore + refusals.length < REFUSALS_KEPT)
        refusals.push({ line: number, reason: result.reason, text: cells.join(delimiter).slice(0, 300).replaceAll("\0", "") });
    }
    used = bite.end;
    await turn();
  }
  return {
    copy: copy.join(""),
    taken: copy.length,
    days,
    lastDay: copy.length > 0 ? formatDate(lastDay) : null,
    lastsDays,
    refusals,
    refused,
    used,
    lines,
  };
}

const BITE = 1 << 16;

/** The whole records of a text, some at a time: what is done with soon is forgotten cheaply. `end` is where they end. */
function* bites(
  text: string,
  { delimiter, isLast }: Pick<Taking, "delimiter" | "isLast">,
): Generator<Readonly<{ records: readonly (readonly string[])[]; end: number }>> {
  let start = 0;
  for (let size = BITE; start < text.length; ) {
    const end = Math.min(text.length, start + size);
    const isEnd = isLast && end === text.length;
    const { data, meta } = new Papa.Parser({ delimiter, newline: "\n" }).parse(text.slice(start, end), 0, !isEnd);
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
