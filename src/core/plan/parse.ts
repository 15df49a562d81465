import { type Document, isMap, isScalar, isSeq, LineCounter, type Node, parseDocument, visit } from "yaml";
import { z } from "zod";
import { nearest } from "../selector";
import { type PlanFile, planFileSchema } from "./file";

/** One thing wrong in a file: where it stands (lines and columns from 1) and what would have been right. */
export type FileIssue = Readonly<{ line: number; column: number; path: string; message: string }>;

export type FileResult<T> = Readonly<{ ok: true; value: T }> | Readonly<{ ok: false; issues: readonly FileIssue[] }>;

/** Reads a plan file in YAML 1.2 or JSON, with at most 5,000 entries in a list. All issues at once, in the order they stand. */
export function parsePlanFile(text: string): FileResult<PlanFile> {
  return parseFile(text, planFileSchema, ENTRIES_MAX);
}

/**
 * Reads YAML or JSON text and checks it against a schema; unknown keys name the nearest known one. A list of more entries
 * than `entriesMax` is refused by their number.
 */
export function parseFile<T>(text: string, schema: z.ZodType<T>, entriesMax = Number.POSITIVE_INFINITY): FileResult<T> {
  const limit = beyondLimits(text);
  if (limit) return { ok: false, issues: [limit] };
  const lines = new LineCounter();
  const document = parseDocument(text, { lineCounter: lines, prettyErrors: false, uniqueKeys: false });
  if (document.errors.length > 0) {
    return {
      ok: false,
      issues: document.errors
        .slice(0, ISSUES_MAX)
        .map((error) => ({ ...position(lines, error.pos[0]), path: "", message: firstLine(error.message) })),
    };
  }
  const many = tooMany(document, lines, entriesMax);
  if (many) return { ok: false, issues: [many] };
  const twice = keysTwice(document, lines);
  if (twice.length > 0) return { ok: false, issues: twice };
  let data: unknown;
  try {
    data = document.toJS({ maxAliasCount: 100 });
  } catch (error) {
    return { ok: false, issues: [{ line: 1, column: 1, path: "", message: firstLine(String(error)) }] };
  }
  const result = schema.safeParse(data);
  if (result.success) return { ok: true, value: result.data };
  const all = result.error.issues;
  const issues = all
    .slice(0, TOLD_MAX)
    .flatMap((issue) => fileIssues(issue, document.contents as Node | null, { lines, schema }))
    .sort((a, b) => a.line - b.line || a.column - b.column);
  const rest = all.length - TOLD_MAX;
  const more = rest > 0 ? [{ line: issues.at(-1)?.line ?? 1, column: 1, path: "", message: `and ${rest} more like these` }] : [];
  return { ok: false, issues: [...issues, ...more] };
}

/** A file of more than this is none that a person means. */
const LENGTH_MAX = 1_000_000;
/** Lists and maps within one another. */
const DEPTH_MAX = 60;
/** Entries of one list: more make thousands of mistakes to look for, or a preview that nobody reads. */
const ENTRIES_MAX = 5_000;
/** Of one kind in one place; the rest is counted. */
const ISSUES_MAX = 50;
/** Of all kinds; the rest is counted. */
const TOLD_MAX = 1_000;
const KEY_MAX = 200;

/** What makes a text too long or too deep to be looked at, from one pass over it; null where nothing does. */
function beyondLimits(text: string): FileIssue | null {
  if (text.length > LENGTH_MAX)
    return issueAt(text, 0, `the file has ${text.length} characters, and at most ${LENGTH_MAX} are read`);
  let depth = 0;
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    if (code === OPEN_LIST || code === OPEN_MAP) depth++;
    else if ((code === CLOSE_LIST || code === CLOSE_MAP) && depth > 0) depth--;
    if (depth > DEPTH_MAX) return issueAt(text, i, `lists and maps are at most ${DEPTH_MAX} deep`);
  }
  const steps = /(?:^|\n)[ \t]*(?:[-?:][ \t]+){60}/.exec(text) ?? /(?:^|\n)[ \t]{600}/.exec(text);
  return steps ? issueAt(text, steps.index + 1, `lists and maps are at most ${DEPTH_MAX} deep`) : null;
}

const [OPEN_LIST, CLOSE_LIST, OPEN_MAP, CLOSE_MAP] = [0x5b, 0x5d, 0x7b, 0x7d];

function issueAt(text: string, offset: number, message: string): FileIssue {
  const before = text.slice(0, offset);
  const line = before.split("\n").length;
  return { line, column: offset - before.lastIndexOf("\n"), path: "", message };
}

/** The first list with more entries than are read, by count alone, before anything else is asked of them. */
function tooMany(document: Document, lines: LineCounter, most: number): FileIssue | null {
  let found: FileIssue | null = null;
  visit(document, {
    Seq(_, list) {
      if (list.items.length <= most) return undefined;
      const message = `the list has ${list.items.length} entries, and at most ${most} are read; take it in in parts`;
      found = { ...position(lines, list.range?.[0] ?? 0), path: "", message };
      return visit.BREAK;
    },
  });
  return found;
}

/** Keys that stand twice in one map; the reader's own check compares each with each. */
function keysTwice(document: Document, lines: LineCounter): FileIssue[] {
  const found: FileIssue[] = [];
  visit(document, {
    Map(_, map) {
      const seen = new Set<string>();
      for (const { key } of map.items) {
        if (!isScalar(key)) continue;
        const name = String(key.value);
        if (seen.has(name))
          found.push({
            ...position(lines, key.range?.[0] ?? 0),
            path: name.slice(0, KEY_MAX),
            message: "Map keys must be unique",
          });
        if (found.length >= ISSUES_MAX) return visit.BREAK;
        seen.add(name);
      }
      return undefined;
    },
  });
  return found;
}

function firstLine(text: string): string {
  return text.split("\n")[0] as string;
}

function position(lines: LineCounter, offset: number): { line: number; column: number } {
  const { line, col } = lines.linePos(offset);
  return { line, column: col };
}

type Place = Readonly<{ lines: LineCounter; schema: z.ZodType }>;

function fileIssues(issue: z.core.$ZodIssue, root: Node | null, { lines, schema }: Place): FileIssue[] {
  const at = (path: readonly PropertyKey[], ofKey = false) => position(lines, offsetOf(root, path, ofKey));
  if (issue.code === "unrecognized_keys") {
    const known = new Map(keysAt(schema, issue.path).map((key) => [key, 1]));
    const told = issue.keys.slice(0, ISSUES_MAX);
    const rest = issue.keys.length - told.length;
    const more =
      rest > 0 ? [{ ...at(issue.path), path: pathText(issue.path), message: `and ${rest} more keys that are not known` }] : [];
    const issues = told.map((key) => {
      const near = key.length <= KEY_MAX ? nearest(key, known) : null;
      const path = [...issue.path, key];
      return {
        ...at(path, true),
        path: pathText(path),
        message: `unknown key "${key.slice(0, KEY_MAX)}"${near ? `; the nearest known key is "${near.name}"` : ""}`,
      };
    });
    return [...issues, ...more];
  }
  if (issue.code === "invalid_union" && issue.errors.length > 0) {
    const deepest = [...issue.errors].sort((a, b) => depth(b) - depth(a))[0] as z.core.$ZodIssue[];
    if (depth(deepest) > 0)
      return deepest.flatMap((inner) => fileIssues({ ...inner, path: [...issue.path, ...inner.path] }, root, { lines, schema }));
  }
  return [{ ...at(issue.path), path: pathText(issue.path), message: issue.message }];
}

function depth(issues: readonly z.core.$ZodIssue[]): number {
  return Math.max(0, ...issues.map(({ path }) => path.length));
}

function pathText(path: readonly PropertyKey[]): string {
  return path
    .map((part) => (typeof part === "number" ? `[${part}]` : `.${String(part)}`))
    .join("")
    .replace(/^\./, "");
}

/** The offset of the node at a path, or of the deepest node on the way that exists. */
function offsetOf(root: Node | null, path: readonly PropertyKey[], ofKey: boolean): number {
  let node: Node | null = root;
  let offset = root?.range?.[0] ?? 0;
  for (const [i, part] of path.entries()) {
    if (isMap(node)) {
      const pair: { key: unknown; value: unknown } | undefined = node.items.find(
        ({ key }) => isScalar(key) && String(key.value) === String(part),
      );
      if (!pair) break;
      const isLastKey = ofKey && i === path.length - 1;
      node = (isLastKey ? pair.key : (pair.value ?? pair.key)) as Node;
    } else if (isSeq(node) && typeof part === "number") {
      node = (node.items[part] as Node | undefined) ?? null;
    } else {
      break;
    }
    if (!node?.range) break;
    offset = node.range[0];
  }
  return offset;
}

/** The keys an object schema knows at a path; empty where the schema is not an object there. */
function keysAt(schema: z.ZodType, path: readonly PropertyKey[]): string[] {
  let here: z.ZodType | undefined = schema;
  for (const part of path) {
    here = unwrap(here);
    if (here instanceof z.ZodArray) here = here.element as z.ZodType;
    else if (here instanceof z.ZodObject) here = here.shape[String(part)] as z.ZodType | undefined;
    else if (here instanceof z.ZodUnion) here = objectOption(here);
    if (!here) return [];
  }
  here = unwrap(here);
  if (here instanceof z.ZodUnion) here = objectOption(here);
  return here instanceof z.ZodObject ? Object.keys(here.shape) : [];
}

function objectOption(union: z.ZodUnion): z.ZodType | undefined {
  return union.options.map((option) => unwrap(option as z.ZodType)).find((option) => option instanceof z.ZodObject);
}

function unwrap(schema: z.ZodType | undefined): z.ZodType | undefined {
  let here = schema;
  for (;;) {
    if (
      here instanceof z.ZodOptional ||
      here instanceof z.ZodDefault ||
      here instanceof z.ZodPrefault ||
      here instanceof z.ZodNullable
    )
      here = here.unwrap() as z.ZodType;
    else if (here instanceof z.ZodPipe) here = here.in as z.ZodType;
    else return here;
  }
}
