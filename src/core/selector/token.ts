import { AppError } from "../error";

/** A piece of a selector's text; `at` is its offset in characters from 0. */
export type Token = Readonly<{
  kind: "word" | "quoted" | "symbol" | "end";
  text: string;
  at: number;
  end: number;
}>;

export class SelectorError extends AppError {
  readonly code = "selector";
  constructor(
    /** Offset in characters from 0. */
    readonly at: number,
    readonly expected: string,
    readonly found: string,
  ) {
    super(`character ${at + 1}: expected ${expected}, found ${found}`, { facts: { at, expected, found } });
  }
}

/** Words of the grammar; as a key or a value they stand in quotes. */
export const KEYWORDS: ReadonlySet<string> = new Set(["and", "or", "not", "in", "has"]);

const WORD = /[\p{L}\p{N}_./*?-]+/uy;
const SPACE = /\s+/uy;
const SYMBOLS = ["!=", "=", "~", "(", ")", ",", ":"];

/** Splits a selector into words, quoted words and symbols; throws a SelectorError at anything else. */
export function tokenize(text: string): Token[] {
  const tokens: Token[] = [];
  let at = 0;
  while (at < text.length) {
    SPACE.lastIndex = at;
    if (SPACE.test(text)) {
      at = SPACE.lastIndex;
      continue;
    }
    const token = quotedAt(text, at) ?? wordAt(text, at) ?? symbolAt(text, at);
    if (!token) throw new SelectorError(at, "a key, a value, an operator or a parenthesis", `"${text[at]}"`);
    tokens.push(token);
    at = token.end;
  }
  tokens.push({ kind: "end", text: "", at: text.length, end: text.length });
  return tokens;
}

function wordAt(text: string, at: number): Token | null {
  WORD.lastIndex = at;
  const match = WORD.exec(text);
  return match ? { kind: "word", text: match[0], at, end: at + match[0].length } : null;
}

function symbolAt(text: string, at: number): Token | null {
  const symbol = SYMBOLS.find((candidate) => text.startsWith(candidate, at));
  return symbol ? { kind: "symbol", text: symbol, at, end: at + symbol.length } : null;
}

/** A value in double quotes; a backslash keeps the next character as it is. */
function quotedAt(text: string, at: number): Token | null {
  if (text[at] !== '"') return null;
  let value = "";
  for (let i = at + 1; i < text.length; i++) {
    if (text[i] === '"') return { kind: "quoted", text: value, at, end: i + 1 };
    if (text[i] === "\\" && i + 1 < text.length) i++;
    value += text[i];
  }
  throw new SelectorError(text.length, 'a closing "', "the end of the text");
}
