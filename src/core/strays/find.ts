import type { FleetPlan, Resource } from "../plan";
import { isGuarded, isSchedulable } from "../plan";
import { type Amount, amountOf, type Commitment, costPerSecond, feePerSecond, NO_AMOUNT, type RateCard } from "../pricing";
import type { HoursOf } from "../rounds";
import { matcher, nearMisses, selectorOf } from "../selector";
import { DAY_S, type Instant, MONTH_S } from "../time";

export const STRAY_KINDS = [
  "halted and billed",
  "disk without a machine",
  "address without a machine",
  "old image",
  "running long",
  "in no fleet",
  "tag that names nothing",
  "unused commitment",
] as const;
export type StrayKind = (typeof STRAY_KINDS)[number];

/** Something that costs and serves nobody, or is about to: what it is, since when, and what it costs a month of 730 hours. */
export type Stray = Readonly<{
  /** Kind and what it is about: the same stray has the same key tomorrow. */
  key: string;
  kind: StrayKind;
  resourceId: string | null;
  name: string;
  account: string;
  region: string;
  owner: string | null;
  since: Instant | null;
  perMonth: Amount;
  /** For a tag: what stands on it, and what it is likely meant to be; null where nothing is near. */
  tag: Readonly<{ found: string; meant: string | null }> | null;
  /** For a commitment: units on average in use, of all. */
  used: Readonly<{ average: number; units: number }> | null;
}>;

/** From how many days on an image is old, and a run long. */
export type StrayAges = Readonly<{ imageDays: number; runDays: number }>;
export const DEFAULT_AGES: StrayAges = { imageDays: 14, runDays: 30 };

export type StrayInput = Readonly<{
  now: Instant;
  ages: StrayAges;
  resources: readonly Resource[];
  /** In force or drafted: whatever somebody has thought of. */
  /** In rank order; a draft takes nothing away from those below it. */
  fleets: readonly (Pick<FleetPlan, "name" | "select" | "hours"> & { readonly isDraft?: boolean })[];
  hoursOf: (resource: Resource, fleet: Pick<FleetPlan, "hours">) => HoursOf;
  cardOf: (resource: Resource) => RateCard | null;
  /** With the units in use on average over the last days. */
  commitments: readonly Readonly<{ commitment: Commitment; averageUsed: number }>[];
}>;

/** Every stray, by kind and then the dearest first. A resource may be one in several ways. */
export function findStrays(input: StrayInput): readonly Stray[] {
  const { resources } = input;
  const found = [
    ...resources.flatMap((resource) => kindsOf(resource, input).map((kind) => strayOf(resource, kind, input))),
    ...unclaimed(input),
    ...wrongTags(input),
    ...unused(input),
  ];
  const rank = (kind: StrayKind) => STRAY_KINDS.indexOf(kind);
  return found.sort(
    (a, b) =>
      rank(a.kind) - rank(b.kind) || (a.perMonth < b.perMonth ? 1 : a.perMonth > b.perMonth ? -1 : a.name.localeCompare(b.name)),
  );
}

/** What the strays come to a month: each resource once, however many ways it strays. */
export function strayTotal(strays: readonly Stray[]): Amount {
  const seen = new Set<string>();
  let sum = 0n;
  for (const { resourceId, key, perMonth } of strays) {
    const id = resourceId ?? key;
    if (seen.has(id)) continue;
    seen.add(id);
    sum += perMonth;
  }
  return sum as Amount;
}

/** Kinds that say of a running machine that nobody has thought of it; the others serve nobody. */
const UNTHOUGHT: ReadonlySet<StrayKind> = new Set(["running long", "in no fleet", "tag that names nothing"]);

/** How many things, and what they cost a month; a thing that is a stray twice counts once. */
export type StraySum = Readonly<{ count: number; perMonth: Amount }>;

/** What serves nobody, and what runs without anybody having thought of it; each thing in one of them, so that they add up to all. */
export function straySums(strays: readonly Stray[]): Readonly<{ nobody: StraySum; unthought: StraySum }> {
  const idOf = ({ resourceId, key }: Stray) => resourceId ?? key;
  const nobody = strays.filter(({ kind }) => !UNTHOUGHT.has(kind));
  const counted = new Set(nobody.map(idOf));
  const unthought = strays.filter((stray) => !counted.has(idOf(stray)));
  const sum = (of: readonly Stray[]): StraySum => ({ count: new Set(of.map(idOf)).size, perMonth: strayTotal(of) });
  return { nobody: sum(nobody), unthought: sum(unthought) };
}

function kindsOf(resource: Resource, { now, ages, cardOf }: StrayInput): StrayKind[] {
  const { kind, state, attachedTo, since, runSince } = resource;
  if (kind === "disk") return attachedTo === null ? ["disk without a machine"] : [];
  if (kind === "address") return attachedTo === null ? ["address without a machine"] : [];
  const kinds: StrayKind[] = [];
  if (state === "halted" && cardOf(resource)?.billedWhenHalted) kinds.push("halted and billed");
  if (state === "hibernated" && now - since > ages.imageDays * DAY_S) kinds.push("old image");
  const isLong = kind === "machine" && runSince !== null && now - runSince > ages.runDays * DAY_S;
  if (isLong && !isGuarded(resource)) kinds.push("running long");
  return kinds;
}

function strayOf(resource: Resource, kind: StrayKind, { cardOf }: StrayInput): Stray {
  const card = cardOf(resource);
  return {
    key: `${kind}: ${resource.id}`,
    kind,
    resourceId: resource.id,
    name: resource.name,
    account: resource.fields.account ?? "",
    region: resource.fields.region ?? "",
    owner: resource.tags.owner ?? null,
    since: kind === "running long" ? resource.runSince : resource.since,
    perMonth: card ? amountOf(MONTH_S, costPerSecond(card, resource)) : NO_AMOUNT,
    tag: null,
    used: null,
  };
}

/** Machines that run and that no fleet has thought of. Guarded ones are meant. */
function unclaimed(input: StrayInput): Stray[] {
  const tests = input.fleets.map(({ select }) => matcher(selectorOf(select)));
  return input.resources
    .filter((resource) => isSchedulable(resource) && resource.level > 0 && !isGuarded(resource))
    .filter((resource) => !tests.some((matches) => matches(resource)))
    .map((resource) => ({ ...strayOf(resource, "in no fleet", input), since: resource.runSince ?? resource.since }));
}

/** Tags that are likely mistyped beside what fleets ask for, and tags that name hours nobody has. */
function wrongTags(input: StrayInput): Stray[] {
  const machines = input.resources.filter(isSchedulable);
  const byName = new Map(machines.map((resource) => [resource.name, resource]));
  const strays = new Map<string, Stray>();
  const add = (resource: Resource, tag: NonNullable<Stray["tag"]>) => {
    const stray = strayOf(resource, "tag that names nothing", input);
    const key = `${stray.kind}: ${resource.id} ${tag.found}`;
    if (!strays.has(key)) strays.set(key, { ...stray, key, tag });
  };
  for (const fleet of input.fleets) {
    const selector = selectorOf(fleet.select);
    for (const { found, meant, names } of nearMisses(selector, machines)) {
      for (const name of names) {
        const resource = byName.get(name);
        if (resource) add(resource, { found, meant });
      }
    }
    if (typeof fleet.hours !== "object") continue;
    const { fromTag } = fleet.hours;
    for (const resource of machines.filter(matcher(selector))) {
      const hours = input.hoursOf(resource, fleet);
      if (hours.kind !== "unknown" && hours.kind !== "unreadable") continue;
      const meant = hours.nearest === null ? null : `${fromTag}=${hours.nearest}`;
      add(resource, { found: `${fromTag}=${hours.text}`, meant });
    }
  }
  return [...strays.values()];
}

/** Commitments of which at least one whole unit lies idle on average. */
function unused({ commitments }: StrayInput): Stray[] {
  return commitments.flatMap(({ commitment, averageUsed }): Stray[] => {
    const { id, units, size, region, account } = commitment;
    const idle = units - averageUsed;
    if (idle < 1) return [];
    const fee = amountOf(MONTH_S, feePerSecond(commitment));
    return [
      {
        key: `unused commitment: ${id}`,
        kind: "unused commitment",
        resourceId: null,
        name: `${units} × ${size}`,
        account,
        region,
        owner: null,
        since: null,
        // The part of the fee that bought nothing.
        perMonth: ((fee * BigInt(Math.round(idle * 1000))) / BigInt(units * 1000)) as Amount,
        tag: null,
        used: { average: averageUsed, units },
      },
    ];
  });
}
