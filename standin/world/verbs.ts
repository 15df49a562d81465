import { requireCapacity } from "./capacity";
import { chance } from "./chance";
import { change, tell } from "./happen";
import { type MemberOrder, order, remove, restart } from "./members";
import { providerOf } from "./provider";
import { Refusal } from "./refusal";
import { present, type Unit, type World } from "./types";

export type Verb = "start" | "stop" | "hibernate" | "resize" | "order" | "remove";

/** Carries a request out on one unit, or throws a Refusal; gives the member that an order made. `now` is the world's time. */
export function carryOut(
  world: World,
  unit: Unit,
  { verb, level, now, member }: { verb: Verb; level: number | null; now: number; member?: MemberOrder | null },
): Unit | undefined {
  switch (verb) {
    case "order":
      if (!member) throw new Refusal(400, "bad_order", "expected size, zone and purchase");
      return order(world, unit, member, now);
    case "remove":
      remove(world, unit, now);
      return;
    case "start":
      start(world, unit, now);
      return;
    case "stop":
      lower(world, unit, { now, hibernates: false });
      return;
    case "hibernate":
      requireHibernation(unit);
      lower(world, unit, { now, hibernates: true });
      return;
    case "resize":
      resize(world, unit, { now, level });
      return;
  }
}

function start(world: World, unit: Unit, now: number): void {
  if (unit.kind === "member") return restart(world, unit, now);
  if (unit.kind !== "machine") throw new Refusal(422, "not_possible", `${unit.name} is a ${unit.kind}: use resize`);
  const { state } = present(unit);
  if (state === "running" || state === "starting") return;
  if (state === "stopping") throw new Refusal(409, "busy", `${unit.name} is stopping`);
  requireCapacity(world, unit, now);
  const resumes = state === "hibernated";
  const usual = providerOf(unit.provider).usualS;
  change(unit, { at: now, state: "starting", level: 1 });
  tell(world, unit, { at: now, type: "starting" });
  unit.pending = {
    at: now + duration(world, unit, { now, usualS: resumes ? usual.resume : usual.start }),
    state: "running",
    level: 1,
    type: "running",
  };
}

function lower(world: World, unit: Unit, { now, hibernates }: { now: number; hibernates: boolean }): void {
  const { state, level } = present(unit);
  if (state === "stopped" || state === "hibernated" || state === "stopping") return;
  const usual = providerOf(unit.provider).usualS;
  unit.target = unit.kind === "machine" ? unit.target : 0;
  if (state === "halted") {
    change(unit, { at: now, state: "stopped", level: 0 });
    tell(world, unit, { at: now, type: "stopped" });
    return;
  }
  change(unit, { at: now, state: "stopping", level });
  tell(world, unit, { at: now, type: "stopping" });
  const end = hibernates ? "hibernated" : "stopped";
  const usualS = hibernates ? usual.hibernate : usual.stop;
  unit.pending = { at: now + duration(world, unit, { now, usualS }), state: end, level: 0, type: end };
}

function resize(world: World, unit: Unit, { now, level }: { now: number; level: number | null }): void {
  if (unit.kind === "machine") throw new Refusal(422, "not_possible", `${unit.name} is a machine: use start and stop`);
  if (level === null || !Number.isInteger(level) || level < 0 || level > unit.levelMax) {
    throw new Refusal(422, "level_range", `level ${level}: expected a whole number from 0 to ${unit.levelMax}`);
  }
  const here = present(unit);
  if (level === unit.target && level === here.level) return;
  if (level > here.level) requireCapacity(world, unit, now);
  unit.target = level;
  const usualS = providerOf(unit.provider).usualS[level > here.level ? "start" : "stop"];
  unit.pending = {
    at: now + duration(world, unit, { now, usualS }),
    state: level > 0 ? "running" : "stopped",
    level,
    type: "resized",
  };
  tell(world, unit, { at: now, type: "resizing", note: `to ${level}` });
}

function requireHibernation(unit: Unit): void {
  const { os, memoryGibMax } = providerOf(unit.provider).hibernate;
  const canDo = unit.kind === "machine" && os.includes(unit.os) && unit.memoryGib <= memoryGibMax;
  if (!canDo) throw new Refusal(422, "not_possible", `${unit.name} cannot hibernate here`);
}

function duration(world: World, unit: Unit, { now, usualS }: { now: number; usualS: number }): number {
  return Math.max(5, Math.round(usualS * (0.75 + 0.7 * chance(world.seed, unit.id, "takes", now))));
}
