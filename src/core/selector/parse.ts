import type { Brand } from "../brand";
import { RESERVED_KEYS, type ReservedKey } from "./resource";
import { KEYWORDS, SelectorError, type Token, tokenize } from "./token";

export type Key = Readonly<{ kind: "reserved"; name: ReservedKey } | { kind: "tag"; name: string }>;

type Place = Readonly<{ key: Key /** The clause as typed. */; text: string /** Offset from 0. */; at: number }>;

export type Clause =
  | (Place & Readonly<{ kind: "equals" | "differs"; value: string }>)
  | (Place & Readonly<{ kind: "in"; values: readonly string[] }>)
  | (Place & Readonly<{ kind: "glob"; glob: string }>)
  | (Place & Readonly<{ kind: "has" }>);

export type Selector =
  | Readonly<{ kind: "and"; parts: readonly Selector[] }>
  | Readonly<{ kind: "or"; parts: readonly Selector[] }>
  | Readonly<{ kind: "not"; part: Selector }>
  | Clause;

/** Every clause of a selector, in the order they are written. */
export function clausesOf(selector: Selector): Clause[] {
  if (selector.kind === "and" || selector.kind === "or") return selector.parts.flatMap(clausesOf);
  if (selector.kind === "not") return clausesOf(selector.part);
  return [selector];
}

const DEPTH_MAX = 200;

/** The text of a selector that was read where it came in (`selectorText`): whoever carries it reads it without failing. */
export type SelectorText = Brand<string, "selector">;

/** @throws {SelectorError} where the text is no selector */
export function selectorText(text: string): SelectorText {
  parseSelector(text);
  return text as SelectorText;
}

/** What a text says that was found to be a selector before; it costs a lookup. */
export function selectorOf(text: SelectorText): Selector {
  return parseSelector(text);
}

export type SelectorResult = Readonly<{ ok: true; selector: Selector }> | Readonly<{ ok: false; error: SelectorError }>;

/** Reads a selector (grammar in docs/model.md); the error says where and what was expected. */
export function tryParseSelector(text: string): SelectorResult {
  try {
    return { ok: true, selector: parseSelector(text) };
  } catch (error) {
    if (error instanceof SelectorError) return { ok: false, error };
    throw error;
  }
}

/** Selectors that were read, by their text: plans are asked for the same few at every look. */
const readBefore = new Map<string, Selector>();
const KEPT_MAX = 1000;

/** Reads a selector; throws a SelectorError. One that was read before is the same object, with the same test. */
export function parseSelector(text: string): Selector {
  const known = readBefore.get(text);
  if (known) return known;
  const selector = readSelector(text);
  const [oldest] = readBefore.keys();
  if (readBefore.size >= KEPT_MAX && oldest !== undefined) readBefore.delete(oldest);
  readBefore.set(text, selector);
  return selector;
}

function readSelector(text: string): Selector {
  const tokens = tokenize(text);
  let next = 0;
  let depth = 0;
  const peek = () => tokens[next] as Token;
  const isWord = (word: string) => peek().kind === "word" && peek().text === word;
  const isSymbol = (symbol: string) => peek().kind === "symbol" && peek().text === symbol;

  const fail = (expected: string): never => {
    const { kind, text: found, at } = peek();
    throw new SelectorError(at, expected, kind === "end" ? "the end of the text" : `"${found}"`);
  };
  const take = (): Token => tokens[next++] as Token;
  const symbol = (wanted: string): Token => (isSymbol(wanted) ? take() : fail(`"${wanted}"`));

  const list = (word: "or" | "and", part: () => Selector): Selector => {
    const parts = [part()];
    while (isWord(word)) {
      take();
      parts.push(part());
    }
    return parts.length === 1 ? (parts[0] as Selector) : { kind: word, parts };
  };
  const either = (): Selector => list("or", both);
  const both = (): Selector => list("and", one);

  const one = (): Selector => {
    if (depth >= DEPTH_MAX) fail(`at most ${DEPTH_MAX} levels of "not" and parentheses`);
    depth++;
    const result = innerOne();
    depth--;
    return result;
  };
  const innerOne = (): Selector => {
    if (isWord("not")) {
      take();
      return { kind: "not", part: one() };
    }
    if (isSymbol("(")) {
      take();
      const inside = either();
      if (!isSymbol(")")) fail('"and", "or" or ")"');
      take();
      return inside;
    }
    return clause();
  };

  const clause = (): Clause => {
    const first = peek();
    const place = (key: Key): Place => {
      const last = tokens[next - 1] as Token;
      return { key, text: text.slice(first.at, last.end), at: first.at };
    };
    if (isWord("has")) {
      take();
      const key = keyName("a key after has");
      return { kind: "has", ...place(key) };
    }
    const key = keyName('a key, "has", "not" or "("');
    if (isSymbol("=") || isSymbol("!=")) {
      const kind = take().text === "=" ? "equals" : "differs";
      const value = word("a value");
      return { kind, value, ...place(key) };
    }
    if (isSymbol("~")) {
      take();
      const glob = word("a glob");
      return { kind: "glob", glob, ...place(key) };
    }
    if (isWord("in")) {
      take();
      symbol("(");
      const values = [word("a value")];
      while (isSymbol(",")) {
        take();
        values.push(word("a value"));
      }
      if (!isSymbol(")")) fail('"," or ")"');
      take();
      return { kind: "in", values, ...place(key) };
    }
    return fail('"=", "!=", "~" or "in"');
  };

  const word = (expected: string): string => {
    const { kind, text: value } = peek();
    if (kind === "quoted") return take().text;
    if (kind !== "word") return fail(expected);
    if (KEYWORDS.has(value)) return fail(`${expected} (put "${value}" in quotes to use it as one)`);
    return take().text;
  };
  const keyName = (expected: string): Key => {
    const isTagPrefix = isWord("tag") && tokens[next + 1]?.kind === "symbol" && tokens[next + 1]?.text === ":";
    if (isTagPrefix) {
      next += 2;
      return { kind: "tag", name: word("a tag key after tag:") };
    }
    const isQuoted = peek().kind === "quoted";
    const name = word(expected);
    if (!isQuoted && (RESERVED_KEYS as readonly string[]).includes(name)) {
      return { kind: "reserved", name: name as ReservedKey };
    }
    return { kind: "tag", name };
  };

  const selector = either();
  if (peek().kind !== "end") fail('"and", "or" or the end');
  return selector;
}
