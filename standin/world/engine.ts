import { evictionIn, refillWait } from "./evictions";
import { change, tell } from "./happen";
import { illnessOf, takenBack } from "./members";
import { officeTimers, standUp } from "./office";
import { ownerTimers } from "./owners";
import { providerOf } from "./provider";
import { HOUR, isOn, type Pending, present, type Timer, type Unit, type World } from "./types";

/** Lets everything happen that is due up to `to`, in order of time. What happens does not depend on the steps taken. */
export function advance(world: World, to: number): void {
  while (world.doneUntil < to) {
    const end = Math.min(to, (Math.floor(world.doneUntil / HOUR) + 1) * HOUR);
    for (;;) {
      // A wave takes several in one instant: all of it happens, whatever the first of it did.
      const next = nextTimers(world, end);
      const [first] = next;
      if (!first) break;
      world.doneUntil = first.at;
      for (const { run } of next) run();
    }
    world.doneUntil = end;
  }
}

/** When something happens next by itself, up to an instant of the same hour; null where nothing does. */
export function nextHappening(world: World, end: number): number | null {
  return nextTimers(world, end)[0]?.at ?? null;
}

/** What happens next, up to an instant of the same hour: all that does so at once. */
function nextTimers(world: World, end: number): readonly Timer[] {
  let next: Timer[] = [];
  let at = end;
  const see = (timer: Timer) => {
    if (timer.at > at) return;
    if (timer.at < at) next = [];
    at = timer.at;
    next.push(timer);
  };
  for (const unit of world.units) for (const timer of timersOf(world, unit)) see(timer);
  for (const timer of officeTimers(world)) see(timer);
  for (const timer of ownerTimers(world)) see(timer);
  return next;
}

function timersOf(world: World, unit: Unit): Timer[] {
  const timers: Timer[] = [];
  const { pending } = unit;
  // What took the machine in the same instant called it off.
  const due = (one: Pending) => unit.pending === one && finish(world, unit, one);
  if (pending) timers.push({ at: pending.at, run: () => due(pending) });
  if (unit.kind === "member") timers.push(...illnessOf(world, unit));
  const taken = unit.purchase === "spot" && isOn(present(unit).state) ? evictionThisHour(world, unit) : null;
  if (taken !== null) {
    const notice = taken - providerOf(unit.provider).noticeS;
    if (notice > world.doneUntil)
      timers.push({ at: notice, run: () => tell(world, unit, { at: notice, type: "eviction notice" }) });
    else if (taken > world.doneUntil) timers.push({ at: taken, run: () => evict(world, unit, taken) });
  }
  return timers;
}

/** When in the hour after `doneUntil` this unit loses a machine; null where it does not. */
function evictionThisHour(world: World, unit: Unit): number | null {
  if (unit.kind === "member") return takenBack(world, unit);
  const hour = Math.floor(world.doneUntil / HOUR);
  return evictionIn(world.seed, unit, present(unit).level, hour);
}

function evict(world: World, unit: Unit, at: number): void {
  if (unit.kind === "member") {
    unit.pending = null;
    change(unit, { at, state: unit.keepsDisks ? "stopped" : "gone", level: 0 });
    tell(world, unit, { at, type: "evicted" });
    return;
  }
  if (unit.kind === "machine") {
    unit.pending = null;
    unit.takenAt = at;
    change(unit, { at, state: "stopped", level: 0 });
    tell(world, unit, { at, type: "evicted" });
    return;
  }
  const level = Math.max(0, present(unit).level - 1);
  change(unit, { at, state: level > 0 ? "running" : "stopped", level });
  tell(world, unit, { at, type: "evicted" });
  refillLater(world, unit, at);
}

/** A member that keeps its disks still counts as one, so nothing replaces it. */
function refillLater(world: World, unit: Unit, at: number): void {
  const { level } = present(unit);
  if (unit.kind !== "group" || unit.keepsDisks || unit.pending || level >= unit.target) return;
  unit.pending = { at: at + refillWait(world.seed, unit.id, at), state: "running", level: level + 1, type: "refilled" };
}

function finish(world: World, unit: Unit, pending: Pending): void {
  unit.pending = null;
  if (!isOn(pending.state)) standUp(world, unit, pending.at);
  change(unit, pending);
  tell(world, unit, { at: pending.at, type: pending.type });
  refillLater(world, unit, pending.at);
}
