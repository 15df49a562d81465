import { type FleetPlan, isGuarded, isSchedulable, listedAt, type Resource } from "@/core/plan";
import { isThereAt } from "@/core/spend";
import { DAY_S, formatDate, type Instant } from "@/core/time";
import {
  type ActionSpan,
  actionSpans,
  changesBetween,
  firstChanges,
  fullInventory,
  type Lives,
  livesOf,
  type MixMember,
  mixMembersOver,
  overridesBetween,
  type Prices,
  planEdges,
  plansAt,
  priceBooks,
  type SpendDay,
  type StoredOverride,
  spendDayList,
} from "@/store";
import type { Services } from "../../admin";
import { type Claim, claimsOf, loadSnapshot, type Snapshot, withPlansAt } from "../../inventory";

/** A resource of a fleet on a day, as it was listed and as its plans had it when the day began; `overTime` with all its listings. */
export type Member = Readonly<{ resource: Resource; overTime: Resource; claim: Claim }>;

/** The plans from an instant of the day on. */
export type PlansFrom = Readonly<{ from: Instant; claimOf: (id: string) => Claim | null }>;

/** Everything that a UTC day's realised savings rest on, each as it was on that day. */
export type RealisedInput = Readonly<{
  from: Instant;
  to: Instant;
  snapshot: Snapshot;
  prices: Prices;
  /** The fleets in force when the day began, with their members. */
  fleets: readonly Readonly<{ id: number; plan: FleetPlan; planAt: Instant; members: readonly Member[] }>[];
  /** The plans of the day, in order; the first counts from its beginning. */
  plans: readonly PlansFrom[];
  lives: Lives;
  spend: ReadonlyMap<string, SpendDay>;
  overridesOn: (resource: Resource, fleet: string) => readonly StoredOverride[];
  actionsOn: (id: string) => readonly ActionSpan[];
  evictedAt: (id: string) => readonly Instant[];
  firstAt: ReadonlyMap<string, Instant>;
  /** What mixes had given groups on that day. */
  membersOfGroup: (groupId: string) => readonly MixMember[];
}>;

/** Reads a closed day: once for all fleets, so that it grows with what there is and not with fleets times that. */
export async function readRealisedDay(services: Services, day: number): Promise<RealisedInput> {
  const { pool } = services;
  const [from, to] = [day * DAY_S, (day + 1) * DAY_S];
  const date = formatDate(day);
  const [stored, all, prices, then, edges, lives, spend, holds, changes, actions, given] = await Promise.all([
    loadSnapshot(services),
    fullInventory(pool),
    priceBooks(pool),
    plansAt(pool, from),
    planEdges(pool, { from: from + 1, to }),
    livesOf(pool, null, { from, to: to + 1 }),
    spendDayList(pool, { from: date, to: date }),
    overridesBetween(pool, { from, to }),
    changesBetween(pool, { from: from - DAY_S, to }),
    actionSpans(pool, { from, to }),
    mixMembersOver(pool, { from, to }),
  ]);
  const listed = all.map((resource) => listedAt(resource, from)).filter(isSchedulable);
  const snapshot = await withPlansAt(pool, stored, from);
  const plans: PlansFrom[] = [];
  for (const at of [from, ...edges]) {
    const planned = at === from ? snapshot : await withPlansAt(pool, stored, at);
    const claims = claimsOf({ ...planned, resources: listed }, ({ id }) => isThereAt(lives.get(id), at));
    const byId = new Map(listed.map(({ id }, i) => [id, claims[i] ?? null]));
    plans.push({ from: at, claimOf: (id) => byId.get(id) ?? null });
  }
  const overTime = new Map(all.map((resource) => [resource.id, resource]));
  const byPlan = new Map<FleetPlan, Member[]>();
  for (const resource of listed) {
    const claim = plans[0]?.claimOf(resource.id) ?? null;
    const life = lives.get(resource.id) ?? [];
    // What was gone before the day began belongs to nothing on it.
    if (!claim || isGuarded(resource) || life.every(({ state, to: end }) => state === "gone" || end <= from)) continue;
    const own = byPlan.get(claim.plan);
    const member = { resource, overTime: overTime.get(resource.id) ?? resource, claim };
    if (own) own.push(member);
    else byPlan.set(claim.plan, [member]);
  }
  const heldById = grouped(
    holds.filter(({ resourceId }) => resourceId !== null),
    ({ resourceId }) => resourceId as string,
  );
  const heldByFleet = grouped(
    holds.filter(({ resourceId }) => resourceId === null),
    ({ fleet }) => fleet ?? "",
  );
  const actionsById = grouped(actions, ({ resourceId }) => resourceId);
  const evictions = grouped(
    changes.filter(({ type }) => type === "evicted"),
    ({ resourceId }) => resourceId,
  );
  const memberIds = [...byPlan.values()].flatMap((own) => own.map(({ resource }) => resource.id));
  return {
    from,
    to,
    snapshot,
    prices,
    fleets: snapshot.fleets.flatMap(({ id, inForce }) => {
      const since = then.get(id)?.at;
      return inForce && since !== undefined ? [{ id, plan: inForce, planAt: since, members: byPlan.get(inForce) ?? [] }] : [];
    }),
    plans,
    lives,
    spend: new Map(spend.map((one) => [one.resourceId, one])),
    overridesOn: ({ id }, fleet) => [...(heldById.get(id) ?? []), ...(heldByFleet.get(fleet) ?? [])],
    actionsOn: (id) => actionsById.get(id) ?? [],
    evictedAt: (id) => (evictions.get(id) ?? []).map(({ at }) => at),
    firstAt: await firstChanges(pool, memberIds),
    membersOfGroup: (groupId) => given.get(groupId) ?? [],
  };
}

function grouped<T>(list: readonly T[], keyOf: (one: T) => string): Map<string, T[]> {
  const groups = new Map<string, T[]>();
  for (const one of list) {
    const own = groups.get(keyOf(one));
    if (own) own.push(one);
    else groups.set(keyOf(one), [one]);
  }
  return groups;
}
