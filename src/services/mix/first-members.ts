import { type MixMachine, orderHazard, type Part, rehearseMix } from "@/core/mix";
import type { Resource } from "@/core/plan";
import { cardReader, computePerSecond, roughlyPerHour } from "@/core/pricing";
import { type Decision, mixedDecisions } from "@/core/rounds";
import { type Instant, MINUTE_S } from "@/core/time";
import { type MixMember, mixMembers, openGaps, priceBooks } from "@/store";
import type { Services } from "../admin";
import type { Snapshot } from "../inventory";
import { type MixedGroup, memberUnits, mixedGroups } from "./mixed-groups";
import { pricedMix, saidOf } from "./priced";
import { isBusy } from "./reconciling";

/** What rounds would ask for at once to keep a group at its mix, where nothing refuses. Money per hour, compute alone. */
export type FirstMembers = Readonly<{
  groupId: string;
  group: string;
  wanted: number;
  orders: readonly Readonly<{ part: Part; pool: string | null; machines: number; units: number; perHour: number }>[];
  /** Names of members that are given back. */
  givenBack: readonly string[];
  /** Members that stay. */
  stays: number;
  /** Units that the group has of itself, and how many of them go as what was ordered comes up. */
  plain: number;
  plainGoing: number;
  perHourNow: number;
  perHourThen: number;
}>;

type Asked = Readonly<{ after: Snapshot; decisions: readonly Decision[]; fleet: string; now: Instant }>;

/** Of the fleet's group in a snapshot with its plan in force; null where no mix is kept there, or nothing may be done for it. */
export async function firstMembers({ pool }: Services, { after, decisions, fleet, now }: Asked): Promise<FirstMembers | null> {
  const mixed = mixedGroups(after).find(({ plan }) => plan.name === fleet);
  if (!mixed) return null;
  const { group, mix } = mixed;
  const [members, gaps, { history }] = await Promise.all([mixMembers(pool), openGaps(pool), priceBooks(pool)]);
  const wanted = wantedOf(mixed, { units: memberUnits(after, members, now), decisions });
  if (wanted === null) return null;
  const book = history.bookAt(now);
  const { pools, firmPrice } = pricedMix(mix, group, { book, capabilities: after.capabilities });
  const byId = new Map(after.resources.map((one) => [one.id, one]));
  const there = members.filter(({ groupId }) => groupId === group.id);
  const machines = there.flatMap((member) => machineOf(member, byId.get(member.resourceId), mixed, now));
  const then = rehearseMix({
    now,
    before: now - 1,
    wanted,
    ...saidOf(mix),
    pools: pools.map((one) => ({
      name: one.name,
      units: one.unitsPerMachine,
      price: one.price ?? 0,
      cap: one.cap ?? null,
      hazard: orderHazard(one),
      refusedAt: null,
    })),
    machines,
    gaps: gaps.get(group.id) ?? [],
    firmRefusedAt: null,
  });
  const priceOf = (name: string | null) => pools.find((one) => one.name === name)?.price ?? firmPrice;
  const costOf = (list: readonly MixMachine[]) =>
    list.reduce(
      (sum, { pool: from, units, state }) => sum + (state === "down" ? 0 : from === null ? firmPrice * units : priceOf(from)),
      0,
    );
  const own = cardReader(book, after.capabilities)(group);
  const ownPrice = own ? roughlyPerHour(computePerSecond(own, 1 as Resource["level"])) : firmPrice;
  const units = then.machines.reduce((sum, one) => sum + (one.state === "down" ? 0 : one.units), 0);
  const plainLeft = Math.min(group.level, Math.max(0, wanted - units));
  return {
    groupId: group.id,
    group: group.name,
    wanted,
    orders: then.orders.map((order) => ({
      ...order,
      perHour: order.pool === null ? firmPrice * order.units : priceOf(order.pool) * order.machines,
    })),
    givenBack: then.removed.map((id) => byId.get(id)?.name ?? id),
    stays: machines.length - then.removed.length,
    plain: group.level,
    plainGoing: group.level - plainLeft,
    perHourNow: group.level * ownPrice + costOf(machines),
    perHourThen: plainLeft * ownPrice + costOf(then.machines),
  };
}

type Wanting = Readonly<{ units: ReturnType<typeof memberUnits>; decisions: readonly Decision[] }>;

/** As rounds have it: what is due for the group, else what the mix says. */
function wantedOf({ group, mix }: MixedGroup, { units, decisions }: Wanting): number | null {
  const standing = new Map(typeof mix.wanted === "number" ? [[group.id, mix.wanted] as const] : []);
  const own = decisions.filter(({ resourceId }) => resourceId === group.id);
  return mixedDecisions(own, { groups: new Map([[group.id, group]]), units, standing }).wanted.get(group.id) ?? null;
}

function machineOf(
  { resourceId, part, pool, units, orderedAt }: MixMember,
  resource: Resource | undefined,
  { mix }: MixedGroup,
  now: Instant,
): MixMachine[] {
  if (resource?.state === "gone") return [];
  const isDown = resource?.state === "stopped" || resource?.state === "stopping";
  const isUp = resource?.state === "running" && resource.since + (mix.setupMinutes ?? 0) * MINUTE_S <= now;
  const state = isDown ? "down" : isUp ? "up" : "coming";
  return [{ id: resourceId, part, pool, units, orderedAt, state, isBusy: resource ? isBusy(resource) : false, isIll: false }];
}
