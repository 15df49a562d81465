import { valueUnder } from "./match";
import { isNearMiss } from "./nearest";
import { clausesOf, type Selector } from "./parse";
import type { Selectable } from "./resource";

/** Resources that a clause passes over and was likely meant to match: their tag's key or value is a letter or two off. */
export type NearMiss = Readonly<{
  clause: string /** As it stands on them, `stage=tset`. */;
  found: string /** As it is likely meant. */;
  meant: string;
  names: readonly string[];
}>;

/** A mistake is rare beside what is right: at most one in five. */
const RARE = 0.2;
/** Words shorter than this are a letter or two off each other by nature. */
const SHORT = 4;

/**
 * The likely typing mistakes on the machines themselves, for every clause that names a tag and its
 * value: `Team=draughting` or `stage=tset` where `stage = test` is asked for.
 */
export function nearMisses(selector: Selector, resources: readonly (Selectable & { readonly name: string })[]): NearMiss[] {
  return clausesOf(selector).flatMap((clause) => {
    if (clause.key.kind !== "tag" || (clause.kind !== "equals" && clause.kind !== "in")) return [];
    const key = clause.key.name;
    const wanted = clause.kind === "in" ? clause.values : [clause.value];
    const found = new Map<string, { meant: string; names: string[] }>();
    let right = 0;
    for (const resource of resources) {
      const value = valueUnder(resource, clause.key);
      if (value !== undefined && wanted.includes(value)) right++;
      const miss = missOf(resource, { key, wanted, value });
      if (!miss) continue;
      const known = found.get(miss.found) ?? { meant: miss.meant, names: [] };
      known.names.push(resource.name);
      found.set(miss.found, known);
    }
    return [...found].flatMap(([text, { meant, names }]) =>
      names.length <= right * RARE ? [{ clause: clause.text, found: text, meant, names }] : [],
    );
  });
}

type Asked = Readonly<{ key: string; wanted: readonly string[]; value: string | undefined }>;

function missOf({ tags }: Selectable, { key, wanted, value }: Asked): { found: string; meant: string } | null {
  if (value !== undefined) {
    const meant = wanted.find((one) => isMistake(value, one));
    return meant !== undefined && !wanted.includes(value) ? { found: `${key}=${value}`, meant: `${key}=${meant}` } : null;
  }
  const other = Object.keys(tags).find((name) => isMistake(name, key) && wanted.includes(tags[name] ?? ""));
  return other === undefined ? null : { found: `${other}=${tags[other]}`, meant: `${key}=${tags[other]}` };
}

/** Whether a word is likely another one mistyped: a letter or two off, and long enough for that to mean something. */
export function isMistake(found: string, meant: string): boolean {
  if (!isNearMiss(found, meant)) return false;
  return Math.min(found.length, meant.length) >= SHORT || found.toLowerCase() === meant.toLowerCase();
}
