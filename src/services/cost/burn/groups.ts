import type { Grouping } from "@/core/spend";
import type { Part } from "./priced";
import type { Rated } from "./rates";

/** Parts of a page under one heading, by their index among all of its parts. */
export type Group = Readonly<{
  key: string;
  members: readonly number[];
  /** How many of them run; fees do not. */
  count: number;
  notDue: number;
  /** The selector that picks them out; null where none can. */
  filter: string | null;
}>;

const FEES = "commitments";
const kept = new WeakMap<readonly number[], Map<Grouping, readonly Group[]>>();

/** The groups of what is shown, in the order their first part comes; kept for an order that is kept. */
export function groupsOf(parts: readonly Part[], order: readonly number[], grouping: Grouping): readonly Group[] {
  const byGrouping = kept.get(order) ?? new Map<Grouping, readonly Group[]>();
  kept.set(order, byGrouping);
  const groups = byGrouping.get(grouping) ?? grouped(parts, grouping);
  byGrouping.set(grouping, groups);
  return groups;
}

function grouped(parts: readonly Part[], grouping: Grouping): Group[] {
  const members = new Map<string, number[]>();
  parts.forEach((part, i) => {
    const key = part.kind === "fee" ? FEES : groupKey(part, grouping);
    const own = members.get(key);
    if (own) own.push(i);
    else members.set(key, [i]);
  });
  return [...members].map(([key, own]) => {
    const running = own.flatMap((i) => {
      const part = parts[i] as Part;
      return part.kind === "line" ? [part] : [];
    });
    const notDue = running.filter(({ isNotDue }) => isNotDue).length;
    return { key, members: own, count: running.length, notDue, filter: filterFor(grouping, key, running[0]) };
  });
}

function groupKey({ resource }: Pick<Rated, "resource">, group: Grouping): string {
  const { fields, tags, fleet } = resource;
  switch (group) {
    case "fleet":
      return fleet ?? "in no fleet";
    case "owner":
      return tags.owner ?? "no owner";
    case "region":
    case "account":
    case "provider":
    case "size":
      return fields[group] ?? "";
    case "none":
      return "";
    default: {
      const key = group.slice("tag:".length);
      return tags[key] ?? `no tag ${key}`;
    }
  }
}

function filterFor(group: Grouping, key: string, first: Pick<Rated, "resource"> | undefined): string | null {
  if (!first || group === "fleet" || group === "none") return null;
  const name = group === "owner" ? "owner" : group;
  const value = /^[\p{L}\p{N}_.\-/]+$/u.test(key) ? key : `"${key.replaceAll('"', "")}"`;
  const tag = group === "owner" ? "owner" : group.startsWith("tag:") ? group.slice(4) : null;
  if (tag !== null && first.resource.tags[tag] === undefined) return `not has ${tag}`;
  return `${tag !== null && group !== "owner" ? `tag:${tag}` : name} = ${value}`;
}
