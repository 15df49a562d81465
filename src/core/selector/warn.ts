import type { Warning } from "../warning";
import { matcher, valueUnder } from "./match";
import { isNearMiss, nearest } from "./nearest";
import { type Clause, clausesOf, type Key, type Selector } from "./parse";
import type { Selectable } from "./resource";

/** A clause that matches nothing because its key or value is unknown, and the nearest known one. */
export type SelectorWarning = Warning<
  "matches nothing",
  {
    clause: string;
    /** Offset of the clause in the selector's text, from 0. */
    at: number;
    nearest: string | null;
    /** How many resources effectively have the nearest key or value. */
    count: number;
    /** The unknown word, and which of the two it was meant as. */
    typed: string;
    unknown: "key" | "value";
  }
>;

/** The warnings of every clause, in the order they are written. */
export function selectorWarnings(selector: Selector, resources: readonly Selectable[]): SelectorWarning[] {
  return clausesOf(selector)
    .map((clause) => warningOf(clause, resources))
    .filter((warning) => warning !== null);
}

function warningOf(clause: Clause, resources: readonly Selectable[]): SelectorWarning | null {
  const matches = matcher(clause);
  if (resources.some(matches)) return null;
  const { text, at, key } = clause;
  const values = countValues(resources, key);
  const isKeyUnknown = values.size === 0 && key.kind === "tag";
  if (!isKeyUnknown && (clause.kind === "has" || clause.kind === "differs")) return null;
  const { typed, best } = isKeyUnknown
    ? { typed: key.name, best: nearest(key.name, countKeys(resources)) }
    : nearestValue(clause, values);
  return {
    code: "matches nothing",
    clause: text,
    at,
    nearest: best?.name ?? null,
    count: best?.count ?? 0,
    typed,
    unknown: isKeyUnknown ? "key" : "value",
  };
}

type Found = Readonly<{ typed: string; best: { name: string; count: number } | null }>;

/** The known value nearest to one that the clause names; a likely typing mistake before others. */
function nearestValue(clause: Clause, values: ReadonlyMap<string, number>): Found {
  const found = textsOf(clause).map((typed) => ({ typed, best: nearest(typed, values) }));
  return found.find(({ typed, best }) => best && isNearMiss(typed, best.name)) ?? (found[0] as Found);
}

function textsOf(clause: Clause): readonly string[] {
  switch (clause.kind) {
    case "in":
      return clause.values;
    case "glob":
      return [clause.glob];
    case "equals":
    case "differs":
      return [clause.value];
    case "has":
      return [""];
  }
}

function countValues(resources: readonly Selectable[], key: Key): Map<string, number> {
  const counts = new Map<string, number>();
  for (const resource of resources) {
    const value = valueUnder(resource, key);
    if (value !== undefined) counts.set(value, (counts.get(value) ?? 0) + 1);
  }
  return counts;
}

/** Tag keys and reserved keys in use, with how many resources have each. */
function countKeys(resources: readonly Selectable[]): Map<string, number> {
  const counts = new Map<string, number>();
  for (const { fields, tags } of resources) {
    for (const key of new Set([...Object.keys(fields), ...Object.keys(tags)])) counts.set(key, (counts.get(key) ?? 0) + 1);
  }
  return counts;
}
