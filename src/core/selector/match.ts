import type { Clause, Key, Selector } from "./parse";
import type { Selectable } from "./resource";

/** The value a resource has under a key, or undefined where it lacks the key. */
export function valueUnder(resource: Selectable, key: Key): string | undefined {
  return key.kind === "reserved" ? resource.fields[key.name] : resource.tags[key.name];
}

type Test = (resource: Selectable) => boolean;
const tests = new WeakMap<Selector, Test>();

/** The test of a selector, made once. A clause on a key the resource lacks is false, `!=` too. */
export function matcher(selector: Selector): Test {
  const known = tests.get(selector) ?? compiled(selector);
  tests.set(selector, known);
  return known;
}

function compiled(selector: Selector): Test {
  switch (selector.kind) {
    case "and": {
      const parts = selector.parts.map(matcher);
      return (resource) => parts.every((part) => part(resource));
    }
    case "or": {
      const parts = selector.parts.map(matcher);
      return (resource) => parts.some((part) => part(resource));
    }
    case "not": {
      const part = matcher(selector.part);
      return (resource) => !part(resource);
    }
    default: {
      const test = valueTest(selector);
      return (resource) => {
        const value = valueUnder(resource, selector.key);
        return value !== undefined && test(value);
      };
    }
  }
}

function valueTest(clause: Clause): (value: string) => boolean {
  switch (clause.kind) {
    case "equals":
      return (value) => value === clause.value;
    case "differs":
      return (value) => value !== clause.value;
    case "in": {
      const values = new Set(clause.values);
      return (value) => values.has(value);
    }
    case "glob":
      return (value) => matchesGlob(clause.glob, value);
    case "has":
      return () => true;
  }
}

/**
 * `*` stands for any characters, `?` for one; over the whole value. Walks both texts once and goes
 * back to the last star only, so that a glob of many stars cannot take exponential time.
 */
export function matchesGlob(glob: string, value: string): boolean {
  const pattern = [...glob];
  const text = [...value];
  let p = 0;
  let t = 0;
  let star = -1;
  let mark = 0;
  while (t < text.length) {
    if (p < pattern.length && pattern[p] === "*") {
      star = p++;
      mark = t;
    } else if (p < pattern.length && (pattern[p] === "?" || pattern[p] === text[t])) {
      p++;
      t++;
    } else if (star >= 0) {
      p = star + 1;
      t = ++mark;
    } else {
      return false;
    }
  }
  while (pattern[p] === "*") p++;
  return p === pattern.length;
}

/** A value that everything the selector matches has under a key, where its words say so; null where they do not. */
export function necessaryValue(selector: Selector): Readonly<{ key: Key; value: string }> | null {
  if (selector.kind === "equals") return { key: selector.key, value: selector.value };
  if (selector.kind !== "and") return null;
  for (const part of selector.parts) {
    const found = necessaryValue(part);
    if (found) return found;
  }
  return null;
}
