import type { Level } from "@/core/hours";
import { type FleetPlan, isGuarded, isSchedulable, type ResourceState } from "@/core/plan";
import { ownSizeOf } from "@/core/rounds";
import { matcher, tryParseSelector } from "@/core/selector";
import type { Instant } from "@/core/time";
import type { StoredResource } from "@/store";
import { type Actor, authorise, ESTATE, type Services } from "../admin";
import { plansInForce, tagKeysOf } from "./snapshot";
import { snapshotFor } from "./snapshot-for";

/** `text`: words, a selector, or the address of a machine's page; empty: everything. */
export type FindQuery = Readonly<{ text: string; offset: number; limit: number; at: Instant | null }>;

/** A resource as it is found: on, off or loose. */
export type FoundResource = Readonly<{
  id: string;
  name: string;
  kind: string;
  state: ResourceState;
  level: number;
  since: Instant;
  fleet: string | null;
  owner: string;
  region: string;
  account: string;
  size: string;
  due: number | null;
  tags: Readonly<Record<string, string>>;
  /** The level at which a hold would start it, its own size; null where it runs, or no fleet in force has it. */
  startLevel: Level | null;
}>;

export type Found = Readonly<{
  at: Instant;
  total: number;
  items: readonly FoundResource[];
  /** Every tag key there is, to choose columns from. */
  tagKeys: readonly string[];
}>;

/** Finds resources by words, name, tag, owner or the address of a page, on or off; the nearest names first. */
export async function findResources(services: Services, actor: Actor, query: FindQuery): Promise<Found> {
  authorise(actor, "look", ESTATE);
  const { at, tense, resources, fleets } = await snapshotFor(services, actor, query.at);
  const plans = new Map(tense === "now" ? plansInForce({ fleets }).map((plan) => [plan.name, plan]) : []);
  const text = query.text.trim();
  const found = resources.filter(matchOf(text));
  const ranked = text === "" ? found : nearestFirst(found, text.toLowerCase());
  return {
    at,
    total: found.length,
    items: ranked.slice(query.offset, query.offset + query.limit).map((resource) => foundOf(resource, plans)),
    tagKeys: tagKeysOf(resources),
  };
}

function matchOf(text: string): (resource: StoredResource) => boolean {
  if (text === "") return () => true;
  const page = /\/machines\/([^/?#\s]+)/.exec(text)?.[1];
  if (page !== undefined) {
    const id = decodedOr(page);
    return (resource) => resource.id === id;
  }
  const selector = tryParseSelector(text);
  if (selector.ok) return matcher(selector.selector);
  const words = text.toLowerCase().split(/\s+/);
  return ({ id, name, fields, tags, fleet }) => {
    const all = [id, name, fleet ?? "", ...Object.values(fields), ...Object.keys(tags), ...Object.values(tags)];
    const place = all.join("\n").toLowerCase();
    return words.every((word) => place.includes(word));
  };
}

function decodedOr(text: string): string {
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
}

/** Whole names, then those that begin so, then those that hold it, then the rest; by name among themselves. */
function nearestFirst(found: readonly StoredResource[], text: string): readonly StoredResource[] {
  const distance = ({ name }: StoredResource) => {
    const own = name.toLowerCase();
    return own === text ? 0 : own.startsWith(text) ? 1 : own.includes(text) ? 2 : 3;
  };
  return found
    .map((resource) => ({ resource, distance: distance(resource) }))
    .sort((a, b) => a.distance - b.distance)
    .map(({ resource }) => resource);
}

function foundOf(resource: StoredResource, plans: ReadonlyMap<string, FleetPlan>): FoundResource {
  const { id, name, kind, state, level, since, fields, tags, fleet, due } = resource;
  const plan = plans.get(fleet ?? "");
  const isOff = level === 0 && state !== "starting" && isSchedulable(resource) && !isGuarded(resource);
  return {
    id,
    name,
    kind,
    state,
    level,
    since,
    fleet,
    owner: tags.owner ?? "",
    region: fields.region ?? "",
    account: fields.account ?? "",
    size: fields.size ?? "",
    due,
    tags,
    startLevel: plan && isOff ? ownSizeOf(resource, plan) : null,
  };
}
