import { hoursOver, type IdleRule, metricsRead, slotsWithoutTrips, weekEdges, weeklyWorth } from "@/core/idle";
import { type FleetPlan, isGuarded, onlyLowers } from "@/core/plan";
import { roughlyPerHour } from "@/core/pricing";
import { savedPerSecond } from "@/core/projection";
import { type PoolHistory, poolUse } from "@/core/ready";
import { cardAt } from "@/core/spend";
import { WEEK_HOURS } from "@/core/time";
import { log } from "@/log";
import { type LikelyUse, priceBooks, saveLikelyUse } from "@/store";
import { type Actor, authorise, ESTATE, type Services } from "../admin";
import { samplesOver, TRIED_DAYS } from "../idle";
import { type Claim, claimsOf, loadSnapshot, type Snapshot } from "../inventory";
import { poolHistory, poolsOf } from "../ready";
import { cardsOf } from "./cards";

/** So many machines are tried at a time. */
const PART = 200;

/**
 * Learns from the last weeks what the coming ones are likely to be like, of every fleet in force with a pool's people or idle alarms:
 * what all that tells of time to come goes by. One that fails leaves the others alone.
 */
export async function learnLikelyUse(services: Services, actor: Actor, stopping?: AbortSignal): Promise<{ fleets: number }> {
  authorise(actor, "work", ESTATE);
  const [{ now }, snapshot] = await Promise.all([services.clock.read(), loadSnapshot(services)]);
  const pools = new Map(poolsOf(snapshot, now).map((pool) => [pool.plan.name, pool]));
  let fleets = 0;
  for (const { id, inForce: plan } of snapshot.fleets) {
    if (stopping?.aborted) break;
    if (!plan || (!plan.pooled && (plan.idle ?? []).length === 0)) continue;
    try {
      const pool = pools.get(plan.name);
      const inUse = pool && plan.pooled ? await inUseOf(services, actor, { ...pool, waits: plan.pooled }) : null;
      const idle = await idleOf(services, { snapshot, plan, now });
      await saveLikelyUse(services.pool, id, { learnedAt: now, inUse, idle });
      fleets++;
    } catch (error) {
      log.error({ err: error, fleet: plan.name }, "what is likely of a fleet could not be learned");
    }
  }
  return { fleets };
}

type InUseOf = Pick<ReturnType<typeof poolsOf>[number], "members" | "target"> &
  Readonly<{ waits: Pick<NonNullable<FleetPlan["pooled"]>, "disconnectWait" | "signOffWait"> }>;

/** Who was there, added up over parts of the pool. */
async function inUseOf(services: Services, actor: Actor, { members, target, waits }: InUseOf): Promise<LikelyUse["inUse"]> {
  let sum: PoolHistory | null = null;
  for (let at = 0; at < members.length; at += PART) {
    const ids = members.slice(at, at + PART).map(({ id }) => id);
    const own: PoolHistory = await poolHistory(services, actor, { ids, waits });
    if (sum !== null && (own.inUse.length !== sum.inUse.length || own.slotS !== sum.slotS)) continue;
    const before: readonly number[] = sum?.inUse ?? [];
    sum = { ...own, inUse: own.inUse.map((count, i) => count + (before[i] ?? 0)) };
  }
  const use = sum && poolUse(sum, target.zone);
  return use && use.length > 0 ? use : null;
}

type IdleOf = Readonly<{ snapshot: Snapshot; plan: FleetPlan; now: number }>;

/**
 * What its idle alarms would have taken off of one of its machines, hour by hour of the week: in the mean by what a second of each is
 * worth, since those that are worth most are mostly not those that idle.
 */
async function idleOf(services: Services, { snapshot, plan, now }: IdleOf): Promise<LikelyUse["idle"]> {
  const rules = (plan.idle ?? []).filter(({ action }) => action !== "tell");
  const claims = claimsOf(snapshot);
  const own = snapshot.resources.flatMap((resource, i) => {
    const claim = claims[i];
    return claim?.plan.name === plan.name && resource.kind === "machine" && resource.state !== "gone" && !isGuarded(resource)
      ? [{ resource, claim }]
      : [];
  });
  if (rules.length === 0 || own.length === 0) return null;
  const onS = new Array<number>(WEEK_HOURS).fill(0);
  const offS = new Array<number>(WEEK_HOURS).fill(0);
  const cardsOver = cardsOf(await priceBooks(services.pool), snapshot.capabilities);
  let weights = 0;
  for (let at = 0; at < own.length; at += PART) {
    const part = own.slice(at, at + PART);
    const worths = await worthOf(services, part, { rules, plan, now });
    worths.forEach(({ onByHour, byHour }, i) => {
      const { resource, claim } = part[i] as (typeof part)[number];
      const card = cardAt(cardsOver(resource, now, now + 1) ?? [], now);
      const weight = card ? roughlyPerHour(savedPerSecond(card, { ownSize: claim.ownSize, canHibernate: false }, false)) : 0;
      weights += weight;
      const add = (seconds: readonly number[], into: number[]) =>
        seconds.forEach((own, hour) => {
          into[hour] = (into[hour] as number) + own * weight;
        });
      add(onByHour(), onS);
      add(byHour(), offS);
    });
  }
  const mean = (sums: readonly number[]) => sums.map((sum) => Math.round(sum / weights));
  return weights === 0 ? null : { onS: mean(onS), offS: mean(offS) };
}

type Trying = Readonly<{ rules: readonly IdleRule[]; plan: FleetPlan; now: number }>;

async function worthOf(
  services: Services,
  own: readonly Readonly<{ resource: Snapshot["resources"][number]; claim: Claim }>[],
  { rules, plan, now }: Trying,
): Promise<readonly ReturnType<typeof weeklyWorth>[]> {
  const metrics = [...new Set(rules.flatMap(metricsRead))];
  const samples = await samplesOver(
    services,
    own.map(({ resource }) => resource),
    { metrics, now, days: TRIED_DAYS },
  );
  const { firstEnd, stepS, count, knownFrom } = samples.head;
  const span = { from: firstEnd - stepS, to: firstEnd + (count - 1) * stepS };
  const edges = weekEdges("UTC", { from: knownFrom, to: span.to });
  if (edges.length < 2) return [];
  const worths: ReturnType<typeof weeklyWorth>[] = [];
  for (const [i, { claim }] of own.entries()) {
    const { hours, ownSize } = claim;
    const over = hours.kind === "schedule" ? hoursOver(hours.compiled, { ...span, leadMinutes: plan.lead, ownSize }) : null;
    const slots = slotsWithoutTrips(samples, i, metrics);
    worths.push(weeklyWorth(rules, { slots, hours: over, isByHand: onlyLowers(plan) }, edges));
    // Others get their turn.
    if (i % 20 === 19) await new Promise((resolve) => setImmediate(resolve));
  }
  return worths;
}
