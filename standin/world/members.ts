import { requireCapacity, requireSpot } from "./capacity";
import { chance } from "./chance";
import { evictionsIn } from "./evictions";
import { change, tell } from "./happen";
import { isEligible } from "./prices";
import { providerOf } from "./provider";
import { Refusal } from "./refusal";
import { HOUR, present, type Unit, type World } from "./types";

/**
 * Members of groups that are asked for one by one, by size, zone and purchase.
 */
export type MemberOrder = Readonly<{ size: string; zone: string; purchase: "firm" | "spot"; keepsDisks: boolean }>;

const ILL_AN_HOUR = 0.0004;

/** Adds a member to a group, or throws a Refusal. */
export function order(world: World, group: Unit, asked: MemberOrder, now: number): Unit {
  if (group.kind !== "group") throw new Refusal(422, "not_possible", `${group.name} is a ${group.kind}, no group`);
  const provider = providerOf(group.provider);
  const size = provider.sizes.find(({ name }) => name === asked.size);
  const region = provider.regions.find(({ name }) => name === group.region);
  if (!size || size.rate === "0") throw new Refusal(422, "not_possible", `no size ${asked.size} for machines`);
  if (!region?.zones.includes(asked.zone)) throw new Refusal(422, "not_possible", `no zone ${asked.zone} in ${group.region}`);
  if (asked.purchase === "spot" && !isEligible(provider, size))
    throw new Refusal(422, "not_possible", `${asked.size} cannot be spot`);
  const place = { account: group.account, size: asked.size, zone: asked.zone };
  if (asked.purchase === "spot") requireSpot(world, place, now);
  else requireCapacity(world, place, now);
  const number = (world.membersMade ?? 0) + 1;
  world.membersMade = number;
  const name = `${group.name}-m${String(number).padStart(4, "0")}`;
  const id = `${provider.name}-${name}`;
  const member: Unit = {
    ...group,
    id,
    name,
    kind: "member",
    memberOf: group.id,
    zone: asked.zone,
    size: size.name,
    purchase: asked.purchase,
    tags: { ...group.tags },
    cores: size.cores,
    memoryGib: size.memoryGib,
    levelMax: 1,
    keepsDisks: asked.keepsDisks,
    target: 1,
    pending: null,
    life: [],
  };
  world.units.push(member);
  const usual = provider.usualS.start * (0.75 + 0.7 * chance(world.seed, id, "takes", now));
  change(member, { at: now, state: "starting", level: 1 });
  tell(world, member, { at: now, type: "starting" });
  member.pending = { at: now + Math.max(5, Math.round(usual)), state: "running", level: 1, type: "running" };
  return member;
}

/** Gives a member back for good, its disks with it. */
export function remove(world: World, member: Unit, now: number): void {
  if (member.kind !== "member")
    throw new Refusal(422, "not_possible", `${member.name} is a ${member.kind}, no member of a group`);
  if (present(member).state === "gone") return;
  member.pending = null;
  change(member, { at: now, state: "gone", level: 0 });
  tell(world, member, { at: now, type: "removed" });
}

/** Starts a member whose disks were kept, in its own zone, where there is any to be had. */
export function restart(world: World, member: Unit, now: number): void {
  if (present(member).state !== "stopped") return;
  if (member.purchase === "spot") requireSpot(world, member, now);
  else requireCapacity(world, member, now);
  const usual = providerOf(member.provider).usualS.start * (0.75 + 0.7 * chance(world.seed, member.id, "takes", now));
  change(member, { at: now, state: "starting", level: 1 });
  tell(world, member, { at: now, type: "starting" });
  member.pending = { at: now + Math.max(5, Math.round(usual)), state: "running", level: 1, type: "running" };
}

/** When in the hour after `doneUntil` a member is taken back, alone or in a wave; null where it is not. */
export function takenBack(world: World, unit: Unit): number | null {
  const hour = Math.floor(world.doneUntil / HOUR);
  const { alone, inWave } = evictionsIn(world.seed, unit, hour);
  const times = [alone, inWave].filter((t): t is number => t !== null && t > (unit.life[0]?.at ?? 0) + 150);
  const open = times.filter((t) => t > world.doneUntil);
  return open.length === 0 ? null : Math.min(...open);
}

/** Now and then one stops answering, and stays so until it is replaced. */
export function illnessOf(world: World, unit: Unit): { at: number; run: () => void }[] {
  if (unit.unhealthySince !== undefined || present(unit).state !== "running") return [];
  const hour = Math.floor(world.doneUntil / HOUR);
  if (chance(world.seed, unit.id, "ill", hour) >= ILL_AN_HOUR) return [];
  const at = hour * HOUR + Math.floor(chance(world.seed, unit.id, "ill at", hour) * HOUR);
  if (at <= world.doneUntil) return [];
  return [
    {
      at,
      run: () => {
        unit.unhealthySince = at;
        tell(world, unit, { at, type: "unhealthy" });
      },
    },
  ];
}
