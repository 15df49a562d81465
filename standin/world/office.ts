import { chance } from "./chance";
import { wallClock } from "./local";
import { DAY, HOUR, isOn, present, type Timer, type Unit, type World } from "./types";

/** People who share machines: each comes to any that runs and nobody sits at, and waits where there is none. */
export type Office = {
  zone: string;
  /** The machines, by id. */
  seats: string[];
  people: Person[];
  /** Everybody who found no machine ready, with until when. */
  waits: { person: string; at: number; until: number | null }[];
};
export type Person = { name: string; seat: string | null; waitingSince: number | null };
/** Somebody at a machine. */
export type Sitting = { person: string; from: number; to: number | null };

const FIRST = 7.6;
const RUSH = 0.9;
const LAST = 15.2;
const SPREAD = 2.6;
/** So often one who waits looks round for a machine that is ready, and so long until they find other work for the day. */
const LOOK_EVERY = 15;
const PATIENCE = HOUR / 2;

/** Puts people at machines of the world: from now on they decide what those machines' sessions say. */
export function openOffice(
  world: World,
  { zone, seats, people }: { zone: string; seats: readonly Unit[]; people: number },
): void {
  for (const unit of seats) unit.sittings = pastOf(world, unit, { zone, seats, people });
  world.office = {
    zone,
    seats: seats.map(({ id }) => id),
    people: Array.from({ length: people }, (_, i) => ({
      name: `p${String(i + 1).padStart(2, "0")}`,
      seat: null,
      waitingSince: null,
    })),
    waits: [],
  };
}

/** The four weeks before: everybody had a machine of their own, which ran. */
function pastOf(
  world: World,
  unit: Unit,
  { zone, seats, people }: { zone: string; seats: readonly Unit[]; people: number },
): Sitting[] {
  const i = seats.indexOf(unit);
  if (i >= people) return [];
  const person = `p${String(i + 1).padStart(2, "0")}`;
  const past: Sitting[] = [];
  for (let day = Math.floor(world.doneUntil / DAY) - 29; day * DAY < world.doneUntil + DAY; day++) {
    const stay = stayOf(world, { person, day, zone });
    if (stay && stay.to <= world.doneUntil) past.push({ person, ...stay });
  }
  return past;
}

type Stay = { from: number; to: number };
/** Worked out once: it is asked before anything that happens. */
const stays = new Map<string, Stay | null>();

/** When somebody comes and goes on a UTC day of the calendar there; null on rest days and days off. */
function stayOf(
  { seed }: Pick<World, "seed">,
  { person, day, zone }: { person: string; day: number; zone: string },
): Stay | null {
  const key = `${seed} ${person} ${day} ${zone}`;
  const known = stays.get(key);
  if (known !== undefined) return known;
  const stay = newStay(seed, { person, day, zone });
  stays.set(key, stay);
  return stay;
}

function newStay(seed: number, { person, day, zone }: { person: string; day: number; zone: string }): Stay | null {
  const noon = wallClock(zone, day * DAY + DAY / 2);
  if (noon.weekday > 4 || chance(seed, person, "away", day) < 0.08) return null;
  // The local midnight of that day.
  const midnight = day * DAY + DAY / 2 - noon.hour * HOUR;
  const from = midnight + (FIRST + RUSH * chance(seed, person, "comes", day)) * HOUR;
  const to = midnight + (LAST + SPREAD * chance(seed, person, "goes", day)) * HOUR;
  return { from: Math.floor(from), to: Math.floor(to) };
}

/** What people do next. */
export function officeTimers(world: World): Timer[] {
  const { office } = world;
  if (!office) return [];
  const timers: Timer[] = [];
  const today = Math.floor(world.doneUntil / DAY);
  for (const person of office.people) {
    for (const day of [today, today + 1]) {
      const stay = stayOf(world, { person: person.name, day, zone: office.zone });
      if (!stay) continue;
      if (stay.from > world.doneUntil) timers.push({ at: stay.from, run: () => comes(world, office, person) });
      if (stay.to > world.doneUntil) timers.push({ at: stay.to, run: () => goes(world, person) });
    }
    if (person.waitingSince !== null) {
      // Counted from when the wait began, however the clock got here.
      const looks = Math.floor((world.doneUntil - person.waitingSince) / LOOK_EVERY) + 1;
      timers.push({ at: person.waitingSince + looks * LOOK_EVERY, run: () => looksRound(world, office, person) });
    }
  }
  return timers;
}

function comes(world: World, office: Office, person: Person): void {
  if (person.seat !== null || person.waitingSince !== null) return;
  const at = world.doneUntil;
  if (sitsDown(world, office, person)) return;
  person.waitingSince = at;
  office.waits.push({ person: person.name, at, until: null });
  // Signs in at one that is off, which its provider tells of; two do not try the same.
  const tried = new Set(world.signIns?.filter((one) => at - one.at < HOUR / 4).map(({ unit }) => unit));
  const off = seatsOf(world, office).find((unit) => !isOn(present(unit).state) && !unit.pending && !tried.has(unit.id));
  if (off) {
    world.signIns = [...(world.signIns ?? []).filter((one) => at - one.at < HOUR), { at, unit: off.id }];
    signs(world, off, { type: "sign-in", person: person.name });
  }
}

function looksRound(world: World, office: Office, person: Person): void {
  if (person.waitingSince === null) return;
  if (!sitsDown(world, office, person) && world.doneUntil - person.waitingSince < PATIENCE) return;
  const wait = office.waits.findLast((one) => one.person === person.name && one.until === null);
  if (wait) wait.until = world.doneUntil;
  person.waitingSince = null;
}

function sitsDown(world: World, office: Office, person: Person): boolean {
  const free = seatsOf(world, office).find((unit) => present(unit).state === "running" && !isTaken(unit));
  if (!free) return false;
  free.sittings = [...(free.sittings ?? []), { person: person.name, from: world.doneUntil, to: null }];
  person.seat = free.id;
  signs(world, free, { type: "sign-in", person: person.name });
  return true;
}

function goes(world: World, person: Person): void {
  const at = world.doneUntil;
  const wait = world.office?.waits.findLast((one) => one.person === person.name && one.until === null);
  if (wait) wait.until = at;
  person.waitingSince = null;
  if (person.seat === null) return;
  const unit = world.units.find(({ id }) => id === person.seat);
  const last = unit?.sittings?.findLast(({ person: name }) => name === person.name);
  if (unit && last && last.to === null) {
    last.to = at;
    signs(world, unit, { type: "sign-off", person: person.name });
  }
  person.seat = null;
}

/** Its provider tells of who signs in and off, on or off as the machine may be. */
function signs(world: World, unit: Unit, { type, person }: { type: "sign-in" | "sign-off"; person: string }): void {
  const { state, level } = present(unit);
  const n = (world.events[world.events.length - 1]?.n ?? 0) + 1;
  world.events.push({ n, at: world.doneUntil, account: unit.account, resource: unit.id, type, state, level, note: person });
}

/** Whoever sits at a machine that stops has lost it. */
export function standUp(world: World, unit: Unit, at: number): void {
  const last = unit.sittings?.at(-1);
  if (!last || last.to !== null) return;
  last.to = at;
  const person = world.office?.people.find(({ seat }) => seat === unit.id);
  if (person) person.seat = null;
}

function seatsOf(world: World, office: Office): Unit[] {
  const seats = new Set(office.seats);
  return world.units.filter(({ id }) => seats.has(id));
}

function isTaken({ sittings }: Unit): boolean {
  const last = sittings?.at(-1);
  return last !== undefined && last.to === null;
}

/** True where somebody sat at a machine of an office at an instant. */
export function isSat({ sittings }: Unit, at: number): boolean {
  if (!sittings) return false;
  for (let i = sittings.length - 1; i >= 0; i--) {
    const one = sittings[i] as Sitting;
    if (one.from <= at && (one.to === null || at < one.to)) return true;
    if (one.to !== null && one.to < at - DAY) break;
  }
  return false;
}
