import type { Grouping } from "@/core/spend";
import { cache } from "@/store";
import type { Filtered } from "./filter";
import type { Picked } from "./pick";
import type { PricedFee, PricedLine } from "./priced";

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

export const FEES = "commitments";

/** The groups of what is shown, in the order their first part comes; kept with a pick that is kept. */
export function groupsOf(parts: readonly (PricedLine | PricedFee)[], pick: Picked, grouping: Grouping): readonly Group[] {
  const kept = cache<Picked, Map<Grouping, readonly Group[]>>("groups");
  const byGrouping = kept.get(pick) ?? new Map<Grouping, readonly Group[]>();
  kept.set(pick, byGrouping);
  const groups = byGrouping.get(grouping) ?? grouped(parts, grouping);
  byGrouping.set(grouping, groups);
  return groups;
}

function grouped(parts: readonly (PricedLine | PricedFee)[], grouping: Grouping): Group[] {
  const members = new Map<string, number[]>();
  parts.forEach((part, i) => {
    const key = part.kind === "fee" ? FEES : groupKey(part.resource, grouping);
    const own = members.get(key);
    if (own) own.push(i);
    else members.set(key, [i]);
  });
  return [...members].map(([key, own]) => {
    const running = own.flatMap((i) => {
      const part = parts[i] as PricedLine | PricedFee;
      return part.kind === "line" ? [part] : [];
    });
    const notDue = running.filter(({ isNotDue }) => isNotDue).length;
    return { key, members: own, count: running.length, notDue, filter: filterFor(grouping, key, running[0]?.resource) };
  });
}

/** Under which heading something stands. */
export function groupKey({ fields, tags, fleet }: Filtered, group: Grouping): string {
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
    case "purchase":
      return fields.purchase ?? "disks and addresses";
    case "none":
      return "";
    default: {
      const key = group.slice("tag:".length);
      return tags[key] ?? `no tag ${key}`;
    }
  }
}

/** The selector that picks a group out; null where none can. */
export function filterFor(group: Grouping, key: string, first: Filtered | undefined): string | null {
  if (!first || group === "fleet" || group === "none") return null;
  if (group === "purchase" && first.fields.purchase === undefined) return "not has purchase";
  const name = group === "owner" ? "owner" : group;
  const value = /^[\p{L}\p{N}_.\-/]+$/u.test(key) ? key : `"${key.replaceAll('"', "")}"`;
  const tag = group === "owner" ? "owner" : group.startsWith("tag:") ? group.slice(4) : null;
  if (tag !== null && first.tags[tag] === undefined) return `not has ${tag}`;
  return `${tag !== null && group !== "owner" ? `tag:${tag}` : name} = ${value}`;
}
