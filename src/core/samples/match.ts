import { editDistance } from "../selector";
import type { Attributes } from "./points";

/**
 * How a source names machines: by which attribute of theirs, and what of a machine that is. Null account: any. A domain is cut off
 * what it calls them; null: none is.
 */
export type NamingRule = Readonly<{
  attribute: string;
  names: "id" | "name" | "tag";
  tag: string | null;
  account: string | null;
  domain: string | null;
}>;

/** A machine as a source may name it. */
export type Nameable = Readonly<{ id: string; providerId: string; name: string; account: string; tags: Attributes }>;

/** The machines by what names them; null where several have the same. */
export type NameIndex = ReadonlyMap<string, string | null>;

/** What a host came to: its machine, or why it has none. */
export type Matched = Readonly<{ id: string; why: null }> | Readonly<{ id: null; why: string }>;

export function nameIndex({ names, tag, account }: NamingRule, machines: Iterable<Nameable>): NameIndex {
  const index = new Map<string, string | null>();
  for (const machine of machines) {
    if (account !== null && machine.account !== account) continue;
    const name = names === "id" ? machine.providerId : names === "name" ? machine.name : machine.tags[tag ?? ""];
    if (name !== undefined && name !== "") index.set(name, index.has(name) && index.get(name) !== machine.id ? null : machine.id);
  }
  return index;
}

/** What a host is named by under a rule; null where it lacks the attribute. */
export function identityOf(
  { attribute, domain }: Pick<NamingRule, "attribute" | "domain">,
  attributes: Attributes,
): string | null {
  const value = attributes[attribute];
  return value === undefined || value === "" ? null : withoutDomain(value, domain);
}

/** A name without the domain behind it, whatever the case of that; nothing else of it is touched. */
export function withoutDomain(name: string, domain: string | null): string {
  if (domain === null) return name;
  const tail = `.${domain}`;
  const isBehind = name.length > tail.length && name.slice(-tail.length).toLowerCase() === tail.toLowerCase();
  return isBehind ? name.slice(0, -tail.length) : name;
}

/** The machine of an identity, by one look-up: names are compared exactly; a near one (`nearFinder`) is said, never taken. */
export function matchIdentity(identity: string, index: NameIndex): Matched {
  const id = index.get(identity);
  if (typeof id === "string") return { id, why: null };
  return { id: null, why: id === null ? "names several machines" : "names no machine" };
}

/** Letters that a near name is off by, at most. */
const FURTHEST = 2;
const FQDN = /^([^.]+)\./;

/** Letters that are compared with letters before the search is given up: a fifth of a second. */
const COMPARED_MAX = 20_000_000;

/** Finds whom an identity nearly names; `isSpent` once it compares no more. */
export type NearFinder = ((identity: string) => string | null) & Readonly<{ isSpent: () => boolean }>;

/**
 * Says whom identities nearly name: by their first label, or a letter or two off. Each is held to every name, so it is for the
 * few that somebody looks at; after a number of comparisons (of letters) all others are near nobody.
 */
export function nearFinder(index: NameIndex, comparedMax = COMPARED_MAX): NearFinder {
  let compared = 0;
  const find = (identity: string): string | null => {
    if (index.has(identity)) return null;
    const label = FQDN.exec(identity)?.[1];
    if (label !== undefined && index.get(label)) return label;
    let nearest: string | null = null;
    let least = FURTHEST + 1;
    for (const name of index.keys()) {
      if (compared > comparedMax) break;
      compared++;
      if (Math.abs(name.length - identity.length) > FURTHEST) continue;
      compared += name.length * identity.length;
      const distance = name.toLowerCase() === identity.toLowerCase() ? 0 : editDistance(identity, name);
      if (distance < least) [nearest, least] = [name, distance];
    }
    return nearest;
  };
  return Object.assign(find, { isSpent: () => compared > comparedMax });
}
