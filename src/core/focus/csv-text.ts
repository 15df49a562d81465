/** What may stand between the cells of a file. */
const DELIMITERS = [",", ";", "\t", "|"] as const;
export type Delimiter = (typeof DELIMITERS)[number];

/** The delimiter of a file, from its header: the one that is there most often outside quotes. */
export function delimiterOf(header: string): Delimiter {
  const plain = header.replace(/"[^"]*"/g, "");
  const count = (delimiter: string) => plain.split(delimiter).length;
  return DELIMITERS.reduce((best, one) => (count(one) > count(best) ? one : best));
}

/**
 * Makes the ends of lines the same in a text that comes in pieces: CR LF and CR become LF, but not within quotes, where
 * they belong to a cell. A quote opens at the beginning of a cell only (RFC 4180).
 */
export function lineEnds(delimiter: Delimiter): (piece: string, isLast: boolean) => string {
  let isQuoted = false;
  let before = "\n";
  /** Where in this piece a quote was closed; the next character may be one that belongs to the cell. */
  let closedAt = -2;
  /** A CR at the end of a piece may have its LF in the next. */
  let held = "";
  return (piece, isLast) => {
    let text = held + piece;
    held = "";
    if (!isLast && text.endsWith("\r")) {
      held = "\r";
      text = text.slice(0, -1);
    }
    const hasReturns = text.includes("\r");
    let out = "";
    let from = 0;
    for (let at = text.indexOf('"'); at >= 0; at = text.indexOf('"', at + 1)) {
      if (isQuoted) {
        isQuoted = false;
        closedAt = at;
        if (hasReturns) out += text.slice(from, at);
      } else {
        const last = at > 0 ? text[at - 1] : before;
        if (closedAt !== at - 1 && last !== delimiter && last !== "\n" && last !== "\r") continue;
        isQuoted = true;
        if (hasReturns) out += withoutReturns(text.slice(from, at));
      }
      from = at;
    }
    if (text === "") return "";
    closedAt = closedAt === text.length - 1 ? -1 : -2;
    before = text.at(-1) as string;
    if (!hasReturns) return text;
    const rest = text.slice(from);
    return out + (isQuoted ? rest : withoutReturns(rest));
  };
}

function withoutReturns(text: string): string {
  return text.includes("\r") ? text.replace(/\r\n?/g, "\n") : text;
}
