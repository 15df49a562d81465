import { type Part, poolPlace } from "@/core/mix";
import { cardReader, computePerSecond, roughlyPerHour } from "@/core/pricing";
import { DAY_S, HOUR_S, type Instant, MINUTE_S } from "@/core/time";
import {
  fleetList,
  fullInventory,
  type GapStory,
  gapStories,
  type MixMember,
  mixMembers,
  neverCame,
  openGaps,
  priceBooks,
} from "@/store";
import { type Actor, authorise, ESTATE, type Services } from "../admin";
import { currencyOf, loadSnapshot } from "../inventory";
import { mixedGroups } from "./mixed-groups";

/** One eviction, or other loss, from its notice to what took its place. */
export type EvictionLine = Readonly<
  Pick<
    GapStory,
    "id" | "cause" | "noticedAt" | "since" | "units" | "orderedAt" | "closedAt" | "filledPool" | "filledPart" | "refusals"
  > & {
    fleet: string;
    member: string;
    memberId: string;
    pool: string;
    /** Minutes until what took its place was set up; null while it is not, or nothing does. */
    minutes: number | null;
    /** Its replacement's set-up, at the price of that hour, in the currency; null where it has none. */
    setupCost: number | null;
  }
>;

export type MixStory = Readonly<{
  currency: string;
  /** What mixes in force have now, by fleet. */
  kept: readonly KeptNow[];
  lines: readonly EvictionLine[];
  /** There are more of them before. */
  isMore: boolean;
}>;

export type KeptNow = Readonly<{
  fleet: string;
  /** Units there by part and pool, those being set up among them. */
  parts: readonly Readonly<{ part: Part; pool: string | null; units: number }>[];
  comingUnits: number;
  /** Units that are missing, and since when the oldest is. */
  missingUnits: number;
  missingSince: Instant | null;
  /** What was ordered and accepted within the last day and never came, by pool. */
  neverCame: readonly Readonly<{ pool: string | null; count: number }>[];
}>;

const MOST = 200;

export type MixStoryQuery = Readonly<{ fleet: string | null; hours: number }>;

/** What mixes have now, and what they lost over the last hours, each loss as one line; of one fleet, or of all. */
export async function mixStory(services: Services, actor: Actor, { fleet, hours }: MixStoryQuery): Promise<MixStory> {
  authorise(actor, "look", ESTATE);
  const { pool } = services;
  const [{ now }, snapshot, all, members, gaps, fleets, { history }] = await Promise.all([
    services.clock.read(),
    loadSnapshot(services),
    fullInventory(pool),
    mixMembers(pool),
    openGaps(pool),
    fleetList(pool),
    priceBooks(pool),
  ]);
  const mixed = mixedGroups(snapshot).filter(({ plan }) => fleet === null || plan.name === fleet);
  const byId = new Map(all.map((one) => [one.id, one]));
  const mixOf = new Map(mixed.map(({ group, mix, plan }) => [group.id, { group, mix, plan }]));
  // What is no longer kept has a story too: groups are found by whom they had.
  const ids = new Set([...mixOf.keys(), ...members.map(({ groupId }) => groupId)]);
  const missed = await neverCame(pool, [...ids], now - DAY_S);
  const stories = await gapStories(pool, [...ids], { from: now - hours * HOUR_S, to: now + 1, most: MOST + 1 });
  const lines = stories.slice(0, MOST).flatMap((story): EvictionLine[] => {
    const kept = mixOf.get(story.groupId);
    if (!kept) return [];
    const setupMinutes = kept.mix.setupMinutes ?? 0;
    const upAt = story.ranAt === null ? null : story.ranAt + setupMinutes * MINUTE_S;
    const cardOf = cardReader(history.bookAt(story.ranAt ?? now), snapshot.capabilities);
    const size = (story.filledPool && poolPlace(story.filledPool)?.size) || kept.group.fields.size || "";
    const purchase = story.filledPart === "spot" ? "spot" : "firm";
    const card = cardOf({ ...kept.group, kind: "machine", fields: { ...kept.group.fields, size, purchase } });
    const perHour = card ? roughlyPerHour(computePerSecond(card, 1 as typeof kept.group.level)) : null;
    return [
      {
        id: story.id,
        cause: story.cause,
        noticedAt: story.noticedAt,
        since: story.since,
        units: story.units,
        orderedAt: story.orderedAt,
        closedAt: story.closedAt,
        filledPool: story.filledPool,
        filledPart: story.filledPart,
        refusals: story.refusals,
        fleet: kept.plan.name,
        member: byId.get(story.memberId ?? "")?.name ?? "",
        memberId: story.memberId ?? "",
        pool: story.pool ?? "full price",
        minutes: upAt === null || upAt > now ? null : Math.round((upAt - story.since) / MINUTE_S),
        setupCost: story.filledBy === null || perHour === null ? null : (perHour * setupMinutes) / 60,
      },
    ];
  });
  const names = new Set(fleets.map(({ name }) => name));
  return {
    currency: currencyOf(snapshot),
    kept: mixed
      .filter(({ plan }) => names.has(plan.name))
      .map(({ group, plan, mix }) => {
        const own = members.filter(({ groupId }) => groupId === group.id);
        const open = gaps.get(group.id) ?? [];
        const isComing = ({ resourceId }: MixMember) => {
          const resource = byId.get(resourceId);
          // One that is down with its disks kept waits for its pool, and is on no way.
          if (resource?.state === "stopped" || resource?.state === "stopping") return false;
          return resource?.state !== "running" || resource.since + (mix.setupMinutes ?? 0) * MINUTE_S > now;
        };
        return {
          fleet: plan.name,
          parts: partsOf(own),
          comingUnits: own.filter(isComing).reduce((sum, { units }) => sum + units, 0),
          missingUnits: open.reduce((sum, { units }) => sum + units, 0),
          neverCame: missed.filter(({ groupId }) => groupId === group.id).map(({ pool: of, count }) => ({ pool: of, count })),
          missingSince: open.length === 0 ? null : Math.min(...open.map(({ since }) => since)),
        };
      }),
    lines,
    isMore: stories.length > MOST,
  };
}

function partsOf(members: readonly MixMember[]): KeptNow["parts"] {
  const parts = new Map<string, { part: Part; pool: string | null; units: number }>();
  for (const { part, pool, units } of members) {
    const key = `${part} ${pool}`;
    const own = parts.get(key) ?? { part, pool, units: 0 };
    own.units += units;
    parts.set(key, own);
  }
  const rank = { firm: 0, "stand-in": 1, spot: 2 };
  return [...parts.values()].sort((a, b) => rank[a.part] - rank[b.part] || (a.pool ?? "").localeCompare(b.pool ?? ""));
}
