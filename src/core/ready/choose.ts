import type { Instant } from "../time";
import { MINUTE_S } from "../time";

/** A machine of a pool, as a choice looks at it. */
export type PoolMachine = Readonly<{
  id: string;
  name: string;
  state: "running" | "starting" | "hibernated" | "off";
  /** When it began to run, or to be off. */
  since: Instant;
  isGuarded: boolean;
  /** What a person's hold, or start within its grace, says of it; null where none speaks. */
  held: "on" | "off" | null;
  isInUse: boolean;
  /** It was started of late, and did not come on. */
  isFailing: boolean;
}>;

/** Why one of a pool is on, or off. */
export type ChoiceReason = "held on" | "held off" | "in use" | "just started" | "spare" | "hours" | "enough are on";

export type Choice = Readonly<{ isOn: boolean; reason: ChoiceReason }>;

export type Chosen = Readonly<{
  /** How many ought to be on; null: they are left as they are. */
  wanted: number | null;
  inUse: number;
  /** By machine; guarded ones, and all of them where they are left, are not in it. */
  choices: ReadonlyMap<string, Choice>;
}>;

/** `hours`: how many the hours say; null: leave. */
export type Choosing = Readonly<{ hours: number | null; spare: number; settleMinutes: number; now: Instant }>;

/**
 * Which machines of a pool ought to be on (docs/model.md, Ready machines): as many as the hours say, or as are in use with the
 * spare ones; those that are held, in use or run first. One in use, or that has just started, is never lowered. A second
 * look changes nothing.
 */
export function chooseReady(machines: readonly PoolMachine[], { hours, spare, settleMinutes, now }: Choosing): Chosen {
  const free = machines.filter(({ isGuarded }) => !isGuarded);
  // One that a person holds off is on its way there, whoever sits at it.
  const used = free.filter(({ isInUse, held }) => isInUse && held !== "off").length;
  if (hours === null) return { wanted: null, inUse: used, choices: new Map() };
  const wanted = Math.min(free.length, Math.max(hours, used + (hours > 0 ? spare : 0)));
  const settled = now - settleMinutes * MINUTE_S;
  const choices = new Map<string, Choice>();
  let on = 0;
  // Ranks are worked out once, not at each comparison.
  const inOrder = free.map((machine) => ({ machine, rank: rank(machine) })).sort(before);
  for (const { machine } of inOrder) {
    const isSettling = runs(machine) && machine.since > settled;
    const because = keptBecause(machine, isSettling);
    if (machine.held === "off") choices.set(machine.id, { isOn: false, reason: "held off" });
    else if (on < wanted) choices.set(machine.id, { isOn: true, reason: because ?? (used + spare > hours ? "spare" : "hours") });
    else if (because !== null) choices.set(machine.id, { isOn: true, reason: because });
    else choices.set(machine.id, { isOn: false, reason: "enough are on" });
    if (choices.get(machine.id)?.isOn) on++;
  }
  return { wanted, inUse: used, choices };
}

/** Why one is on whatever is wanted; null where nothing keeps it. */
function keptBecause({ held, isInUse }: PoolMachine, isSettling: boolean): ChoiceReason | null {
  if (held === "on") return "held on";
  if (isInUse) return "in use";
  return isSettling ? "just started" : null;
}

function runs({ state }: PoolMachine): boolean {
  return state === "running" || state === "starting";
}

/** Held on; in use; running, the last started first; hibernated; off, the longest first; what could not be started of late; equals by name. */
function before(a: Ranked, b: Ranked): number {
  if (a.rank !== b.rank) return a.rank - b.rank;
  const since = a.machine.since - b.machine.since;
  const bySince = a.rank === RUNNING ? -since : a.rank === STOPPED ? since : 0;
  return bySince || compareNames(a.machine.name, b.machine.name) || compareNames(a.machine.id, b.machine.id);
}

type Ranked = Readonly<{ machine: PoolMachine; rank: number }>;

const RUNNING = 2;
const STOPPED = 4;
const FAILING = 5;

function rank({ held, isInUse, state, isFailing }: PoolMachine): number {
  if (held === "on") return 0;
  if (isInUse) return 1;
  if (state === "running" || state === "starting") return RUNNING;
  if (isFailing) return FAILING;
  return state === "hibernated" ? 3 : STOPPED;
}

function compareNames(a: string, b: string): number {
  return a < b ? -1 : a > b ? 1 : 0;
}
