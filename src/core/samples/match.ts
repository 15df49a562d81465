import { editDistance } from "../selector";
import type { Attributes } from "./points";

/** How a source names machines: by which attribute of theirs, and what of a machine that is. Null account: any. */
export type NamingRule = Readonly<{
  attribute: string;
  names: "id" | "name" | "tag";
  tag: string | null;
  account: string | null;
}>;

/** A machine as a source may name it. */
export type Nameable = Readonly<{ id: string; providerId: string; name: string; account: string; tags: Attributes }>;

/** The machines by what names them; null where several have the same. */
export type NameIndex = ReadonlyMap<string, string | null>;

/** What a host came to: its machine, or why it has none and whom it nearly names. */
export type Matched =
  | Readonly<{ id: string; why: null; nearly: null }>
  | Readonly<{ id: null; why: string; nearly: string | null }>;

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
export function identityOf({ attribute }: Pick<NamingRule, "attribute">, attributes: Attributes): string | null {
  const value = attributes[attribute];
  return value === undefined || value === "" ? null : value;
}

/** The machine of an identity: names are compared exactly; a near one is said, never taken. */
export function matchIdentity(identity: string, index: NameIndex): Matched {
  const id = index.get(identity);
  if (typeof id === "string") return { id, why: null, nearly: null };
  if (id === null) return { id: null, why: "names several machines", nearly: null };
  return { id: null, why: "names no machine", nearly: nearly(identity, index) };
}

/** Letters that a near name is off by, at most. */
const FURTHEST = 2;
const FQDN = /^([^.]+)\./;

/** Whom an identity nearly names: its first label, or a letter or two off. */
function nearly(identity: string, index: NameIndex): string | null {
  const label = FQDN.exec(identity)?.[1];
  if (label !== undefined && index.get(label)) return label;
  let nearest: string | null = null;
  let least = FURTHEST + 1;
  for (const name of index.keys()) {
    if (Math.abs(name.length - identity.length) > FURTHEST) continue;
    const distance = name.toLowerCase() === identity.toLowerCase() ? 0 : editDistance(identity, name);
    if (distance < least) [nearest, least] = [name, distance];
  }
  return nearest;
}
