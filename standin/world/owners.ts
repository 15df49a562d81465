import { chance } from "./chance";
import { noticedAfter } from "./evictions";
import { lifeOf } from "./habits";
import { instantOf, wallClock } from "./local";
import { providerOf } from "./provider";
import { Refusal } from "./refusal";
import { DAY, present, type Timer, type Unit, type World } from "./types";
import { carryOut } from "./verbs";

/**
 * People with machines of their own, in the time after the demo begins: by their habits they turn them on, and off or not; and whoever
 * finds a machine off when they want to work, whatever turned it off, starts it. A spot machine that was taken back is started again by
 * whoever notices.
 */
const HABITS = ["desk", "class", "trial"];
/** Habits are looked up for so long at a time. */
const WINDOW = 28 * DAY;

type Wish = Readonly<{ at: number; verb: "start" | "stop" }>;
const known = new Map<string, readonly Wish[]>();

/** What owners do next. */
export function ownerTimers(world: World): Timer[] {
  if (!world.owners) return [];
  return world.units.flatMap((unit): Timer[] => {
    if (unit.kind !== "machine" || unit.sittings) return [];
    const back = backAt(world, unit);
    if (back !== null) return [{ at: back, run: () => fulfil(world, unit, "start") }];
    if (!HABITS.includes(unit.habit)) return [];
    const next = nextWish(world, unit);
    return next ? [{ at: next.at, run: () => fulfil(world, unit, next.verb) }] : [];
  });
}

/** When one that was taken back, and is off for that, is started again; null where that has passed. */
function backAt({ seed, doneUntil }: World, unit: Unit): number | null {
  const { state, at } = present(unit);
  if (state !== "stopped" || unit.takenAt !== at || unit.pending) return null;
  const back = at + noticedAfter(seed, unit.id, at);
  return back > doneUntil ? back : null;
}

function nextWish(world: World, unit: Unit): Wish | null {
  const { bornAt, doneUntil } = world;
  const place = Math.floor((doneUntil - bornAt) / WINDOW);
  for (const n of [place, place + 1]) {
    const wishes = wishesOf(world, unit, n);
    let [low, high] = [0, wishes.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((wishes[middle] as Wish).at > doneUntil) high = middle;
      else low = middle + 1;
    }
    const next = wishes[low];
    if (next) return next;
  }
  return null;
}

/** In the n-th window since the demo began, in order. */
function wishesOf({ seed, bornAt }: World, unit: Unit, n: number): readonly Wish[] {
  const key = `${seed} ${unit.id} ${n}`;
  const ready = known.get(key);
  if (ready) return ready;
  const { name, habit, provider, region } = unit;
  const zone = providerOf(provider).regions.find((one) => one.name === region)?.peopleZone ?? "UTC";
  const [from, to] = [bornAt + n * WINDOW, bornAt + (n + 1) * WINDOW];
  const life = lifeOf({ seed, name, habit, zone, level: 1, from: bornAt, to: to + 7 * DAY });
  const isOnAt = (t: number) => life.findLast(({ at }) => at <= t)?.state === "running";
  const byHabit = life.map(({ at, state }): Wish => ({ at, verb: state === "running" ? "start" : "stop" }));
  const byDay: Wish[] = [];
  for (let day = wallClock(zone, from).day; day * DAY < to + DAY; day++) {
    const at = comesAt(seed, unit, { day, zone });
    // Only who has it on by habit wants it then: others have other work.
    if (at !== null && isOnAt(at)) byDay.push({ at, verb: "start" });
  }
  const all = [...byHabit, ...byDay].filter(({ at }) => at > from && at <= to).sort((a, b) => a.at - b.at);
  known.set(key, all);
  return all;
}

/** When somebody sits down at a machine that was left on, on a local day; null where nobody does. As its sessions and load have it. */
function comesAt(seed: number, { id, habit }: Unit, { day, zone }: { day: number; zone: string }): number | null {
  const weekday = (((day + 3) % 7) + 7) % 7;
  if (habit === "desk") return weekday > 4 ? null : instantOf(zone, day, 7.5 + 1.5 * chance(seed, id, "in", day));
  if (habit === "class") return weekday === 5 ? instantOf(zone, day, 9) : null;
  return chance(seed, id, "use", day) < 0.25 ? instantOf(zone, day, 9) : null;
}

function fulfil(world: World, unit: Unit, verb: Wish["verb"]): void {
  const { state } = present(unit);
  if (state === "gone" || unit.pending) return;
  try {
    carryOut(world, unit, { verb, level: null, now: world.doneUntil });
  } catch (error) {
    // None to be had, or the account says nothing: they do something else today.
    if (!(error instanceof Refusal)) throw error;
  }
}
