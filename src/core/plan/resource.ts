import type { Level } from "../hours";
import type { Selectable } from "../selector";
import { DAY_S, type Instant } from "../time";

/** A member is one machine of a group that was asked for by itself. */
export const RESOURCE_KINDS = ["machine", "group", "service", "member", "disk", "address"] as const;
export type ResourceKind = (typeof RESOURCE_KINDS)[number];

export const RESOURCE_STATES = ["running", "stopped", "halted", "hibernated", "starting", "stopping", "gone"] as const;
export type ResourceState = (typeof RESOURCE_STATES)[number];

/** One resource as a provider lists it. `fields` and `tags` are what selectors look at. */
export type ListedResource = Selectable &
  Readonly<{
    id: string;
    name: string;
    kind: ResourceKind;
    state: ResourceState;
    /** What runs: 0 or 1 for a machine, members of a group, cores of a service. */
    level: Level;
    /** What it is on its way to: a group is asked for members that come one by one. */
    target: Level;
    /** The highest level the provider allows. */
    levelMax: number;
    /** When the present state began. */
    since: Instant;
    /** When the present billed run began; null while nothing runs. */
    runSince: Instant | null;
    cores: number;
    memoryGib: number;
    diskGib: number;
    diskClass: string;
    /** Addresses attached to it (for an address: 1). */
    addresses: number;
    /** For disks and addresses: the machine they belong to; for members their group. Null where there is none. */
    attachedTo: string | null;
  }>;

/** Something in a listing or a feed that cannot be understood, alone: whose it is, as far as that can be told, and why. */
export type SetAside = Readonly<{ id: string | null; name: string; why: string }>;

/**
 * What a resource is known by: its account and its provider's name for it. Two providers may both have a
 * "101", and nobody's listing speaks for what is another's.
 */
export function resourceKey(account: string, providerId: string): string {
  return `${account}:${providerId}`;
}

/** Why an account cannot have a name, or null where it can: what it has is known by `account:id`. */
export function accountNameIssue(name: string): string | null {
  if (name.trim() === "" || name.length > 80) return "a name has 1 to 80 characters";
  if (name.includes(":")) return "a name has no colon: its resources are known by account:id";
  // Fees stand beside resources in the ledger, as `commitment:ID`.
  return name === "commitment" ? "that name is the ledger's own" : null;
}

/** What its provider calls a resource of an account. */
export function providerIdOf(key: string, account: string): string {
  return key.startsWith(`${account}:`) ? key.slice(account.length + 1) : key;
}

/** One resource as it was last read, with what hours mean by on. */
export type Resource = ListedResource &
  Readonly<{
    /**
     * What on means for it: 1 for a machine; for a group or service the greatest it had in the 28 days
     * before its first plan (docs/model.md, Words).
     */
    ownSize: Level;
    /** A guard that was seen holds until then, though its tag is gone; null while the tag is there or no guard was seen of late. */
    guardedUntil: Instant | null;
    /** What its listing said of it before, oldest first; mostly empty. */
    earlier: readonly Earlier[];
    /** Which of a pool's machines it is, by name, from 0; absent where its fleet is no pool. */
    poolPlace?: number;
  }>;

/** A resource as it was listed until an instant: other tags, another size, other disks. */
export type Earlier = Readonly<{ until: Instant; was: Resource }>;

/** The resource as it was listed at an instant; its state is that of now. */
export function listedAt(resource: Resource, t: Instant): Resource {
  for (const { until, was } of resource.earlier) if (t < until) return was;
  return resource;
}

/** Disks and addresses cost money but have no level to set; a member's is set by its group's mix. */
export function isSchedulable({ kind }: Pick<Resource, "kind">): boolean {
  return kind === "machine" || kind === "group" || kind === "service";
}

/** True for what starts, runs and ends: a life that can be looked at. */
export function hasLife(resource: Pick<Resource, "kind">): boolean {
  return isSchedulable(resource) || resource.kind === "member";
}

/** The states in which compute is billed, whatever the provider. */
export function isRunningState(state: ResourceState): boolean {
  return state === "running" || state === "starting" || state === "stopping";
}

/** The tag that forbids any action, whatever its value. */
export const GUARD_TAG = "umbrik-guard";

/** How long a guard holds after its tag was last seen. */
export const GUARD_HOLDS_S = DAY_S;

export function isGuarded(resource: Selectable & { readonly guardedUntil?: Instant | null }): boolean {
  return resource.tags[GUARD_TAG] !== undefined || (resource.guardedUntil ?? null) !== null;
}
