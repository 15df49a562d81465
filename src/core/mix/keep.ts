import { type Instant, MINUTE_S } from "../time";
import type { Order } from "./mix";
import { Placing } from "./placing";
import type { StepReason } from "./step-reason";

/** What a machine of a mix is there for: the firm part, the rest, or a part of the rest at full price for a while. */
export type Part = "firm" | "spot" | "stand-in";

/** A machine of a mix as it is known now. */
export type MixMachine = Readonly<{
  id: string;
  part: Part;
  /** The pool it came from; null at full price. */
  pool: string | null;
  units: number;
  /** `coming`: ordered, and not of use yet. `down`: taken back, its disks kept. */
  state: "coming" | "up" | "down";
  orderedAt: Instant;
  /** It does work that must not be cut off. */
  isBusy: boolean;
  /** It has been called unhealthy for so long that it is replaced. */
  isIll: boolean;
}>;

/** Units that are missing since an instant; `disk`: the machine down whose disks are kept for them. */
export type MixGap = Readonly<{ id: number; units: number; since: Instant; disk: string | null }>;

/** A pool as it is known now. */
export type MixPool = Readonly<{
  name: string;
  units: number;
  price: number;
  cap: number | null;
  hazard: number;
  /** When it last refused an order; null where it has not of late. */
  refusedAt: Instant | null;
}>;

/** What a mix is kept by, at one look. Units and minutes as in a plan's mix (docs/model.md, Capacity mix). */
export type Keeping = Readonly<{
  now: Instant;
  /** The look before: what came due since then is due now. */
  before: Instant;
  wanted: number;
  firm: number;
  order: Order;
  refillEveryMinutes: number | null;
  fallbackAfterMinutes: number | null;
  returnAfterMinutes: number | null;
  pools: readonly MixPool[];
  machines: readonly MixMachine[];
  gaps: readonly MixGap[];
  /** When an order at full price was last refused. */
  firmRefusedAt: Instant | null;
}>;

/** One thing to do for a mix. `gaps`: those that it is to fill, the oldest first. */
export type KeepStep =
  | Readonly<{ kind: "order"; part: Part; pool: string | null; units: number; gaps: readonly number[]; reason: StepReason }>
  | Readonly<{ kind: "restart"; id: string; gap: number | null; reason: StepReason }>
  | Readonly<{ kind: "remove"; id: string; reason: StepReason }>;

/**
 * The next thing to do for a mix, or null where all is as it should be or must be waited for: firm first, what is too many off,
 * then gaps by the order of pools, firm units that stand in, and the way back. Whoever does it notes the answer and asks again.
 */
export function nextStep(keeping: Keeping): KeepStep | null {
  return (
    firmStep(keeping) ?? sickStep(keeping) ?? dearStep(keeping) ?? excessStep(keeping) ?? gapStep(keeping) ?? backStep(keeping)
  );
}

/** How many units of the rest are wanted: all but the firm ones. */
export function spotWanted({ wanted, firm }: Pick<Keeping, "wanted" | "firm">): number {
  return wanted - Math.min(firm, wanted);
}

function unitsOf(machines: readonly MixMachine[], is: (machine: MixMachine) => boolean): number {
  return machines.reduce((sum, machine) => sum + (is(machine) ? machine.units : 0), 0);
}

const isSpot = ({ part, state }: MixMachine) => part === "spot" && state !== "down";
const standsIn = ({ part, state }: MixMachine) => part === "stand-in" && state !== "down";

/** Units that nothing is on its way for. */
export function missingUnits({ machines, ...keeping }: Keeping): number {
  return Math.max(0, spotWanted(keeping) - unitsOf(machines, isSpot) - unitsOf(machines, standsIn));
}

function firmStep(keeping: Keeping): KeepStep | null {
  const { machines, wanted, firm, now, firmRefusedAt } = keeping;
  const needed = Math.min(firm, wanted);
  const own = machines.filter(({ part, state }) => part === "firm" && state !== "down");
  const have = unitsOf(own, () => true);
  if (have < needed)
    return firmRefusedAt === now
      ? null
      : {
          kind: "order",
          part: "firm",
          pool: null,
          units: 1,
          gaps: [],
          reason: { code: "firm missing", have, wanted: needed },
        };
  const spare = youngest(own.filter(({ units, isBusy }) => !isBusy && have - units >= needed));
  return spare && { kind: "remove", id: spare.id, reason: { code: "firm spare", have, wanted: needed } };
}

function sickStep({ machines }: Keeping): KeepStep | null {
  const ill = machines.find(({ isIll, state }) => isIll && state !== "down");
  return ill ? { kind: "remove", id: ill.id, reason: { code: "unhealthy" } } : null;
}

function dearStep({ machines, pools }: Keeping): KeepStep | null {
  const over = new Map(pools.filter(isOver).map((pool) => [pool.name, pool]));
  const dear = machines.find(({ pool, part, state }) => part === "spot" && state !== "down" && pool !== null && over.has(pool));
  const pool = dear?.pool == null ? undefined : over.get(dear.pool);
  return dear && pool
    ? { kind: "remove", id: dear.id, reason: { code: "over its cap", pool: pool.name, price: pool.price, cap: pool.cap } }
    : null;
}

function isOver({ cap, price }: MixPool): boolean {
  return cap !== null && price > cap;
}

/** What stands in goes as soon as the rest is up without it; spot goes where there is more than is wanted. */
function excessStep(keeping: Keeping): KeepStep | null {
  const { machines } = keeping;
  const wanted = spotWanted(keeping);
  const spot = unitsOf(machines, isSpot);
  const up = unitsOf(machines, (machine) => isSpot(machine) && machine.state === "up");
  const standing = unitsOf(machines, standsIn);
  const spare = youngest(
    machines.filter((one) => standsIn(one) && !one.isBusy && Math.min(up, wanted) + standing - one.units >= wanted),
  );
  if (spare) return { kind: "remove", id: spare.id, reason: { code: "spot is up" } };
  const down = machines.find(({ state, id }) => state === "down" && !keeping.gaps.some(({ disk }) => disk === id));
  // While something stands in for it, its disks wait for the way back.
  if (down && standing === 0) return { kind: "remove", id: down.id, reason: { code: "disks not waited for" } };
  const excess = spot - wanted;
  if (excess <= 0) return null;
  const reason = { code: "spot spare", have: spot, wanted } as const;
  const free = machines.filter((one) => isSpot(one) && !one.isBusy);
  // A pool that the plan does not name any more has no share: what came from it goes first.
  const unnamed = free.filter((one) => !keeping.pools.some(({ name }) => name === one.pool));
  const fits = youngest(unnamed.filter(({ units }) => units <= excess));
  if (fits) return { kind: "remove", id: fits.id, reason };
  const { placing, pools } = placed(keeping, free);
  const k = placing.toGiveUp(excess);
  const chosen = youngest(k < 0 ? unnamed : free.filter(({ pool }) => pool === pools[k]?.name));
  return chosen && { kind: "remove", id: chosen.id, reason };
}

function gapStep(keeping: Keeping): KeepStep | null {
  const { gaps, now, before, refillEveryMinutes, fallbackAfterMinutes } = keeping;
  if (gaps.length === 0) return null;
  const inOrder = [...gaps].sort((a, b) => a.since - b.since || a.id - b.id);
  if (inOrder.some(({ since }) => isAttemptDue(since, { now, before, everyMinutes: refillEveryMinutes }))) {
    const back = inOrder.find(({ disk }) => disk !== null && canRestart(disk, keeping, now));
    if (back?.disk) return { kind: "restart", id: back.disk, gap: back.id, reason: { code: "disks kept" } };
    const free = inOrder.filter(({ disk }) => disk === null);
    const room = Math.min(
      missingUnits(keeping),
      free.reduce((sum, { units }) => sum + units, 0),
    );
    const step = orderSpot(keeping, room, now);
    if (step) return { ...step, gaps: filledBy(free, step.units) };
  }
  if (fallbackAfterMinutes === null || keeping.firmRefusedAt === now) return null;
  const late = inOrder.find(({ since }) => since + fallbackAfterMinutes * MINUTE_S <= now);
  if (!late || missingUnits(keeping) === 0) return null;
  const reason = { code: "nothing to be had", minutes: fallbackAfterMinutes } as const;
  return { kind: "order", part: "stand-in", pool: null, units: 1, gaps: [late.id], reason };
}

function isAttemptDue(
  since: Instant,
  { now, before, everyMinutes }: Readonly<{ now: Instant; before: Instant; everyMinutes: number | null }>,
): boolean {
  if (since > before) return true;
  if (everyMinutes === null) return false;
  const everyS = everyMinutes * MINUTE_S;
  return Math.floor((now - since) / everyS) > Math.floor((before - since) / everyS);
}

/** Whether a machine that is down may be asked for: its pool has refused nothing since an instant. */
function canRestart(id: string, { machines, pools }: Keeping, since: Instant): boolean {
  const machine = machines.find((one) => one.id === id);
  const pool = pools.find(({ name }) => name === machine?.pool);
  return machine?.state === "down" && pool !== undefined && !isOver(pool) && (pool.refusedAt ?? Number.NEGATIVE_INFINITY) < since;
}

function backStep(keeping: Keeping): KeepStep | null {
  const { machines, now, returnAfterMinutes } = keeping;
  if (returnAfterMinutes === null) return null;
  const standing = unitsOf(machines, standsIn);
  const room = Math.min(standing, spotWanted(keeping) - unitsOf(machines, isSpot));
  if (room <= 0) return null;
  const since = now - returnAfterMinutes * MINUTE_S;
  const back = machines.find(({ id, state, units }) => state === "down" && units <= room && canRestart(id, keeping, since));
  if (back) return { kind: "restart", id: back.id, gap: null, reason: { code: "disks kept and pool back" } };
  const step = orderSpot(keeping, room, since);
  return step && { ...step, gaps: [], reason: { code: "spot to be had again", pool: step.pool } };
}

/** The gaps that so many units fill, the oldest first. */
function filledBy(gaps: readonly MixGap[], units: number): number[] {
  let left = units;
  const filled: number[] = [];
  for (const { id, units: open } of gaps) {
    if (left <= 0) break;
    filled.push(id);
    left -= open;
  }
  return filled;
}

/** An order from the pool that the order of the mix takes next, of those that have not refused since an instant. */
function orderSpot(keeping: Keeping, room: number, since: Instant): Extract<KeepStep, { kind: "order" }> | null {
  if (room <= 0) return null;
  const { placing, pools } = placed(keeping, keeping.machines.filter(isSpot));
  const k = placing.next(room, since);
  const pool = pools[k];
  return pool
    ? {
        kind: "order",
        part: "spot",
        pool: pool.name,
        units: pool.units,
        gaps: [],
        reason: { code: "next in order", order: keeping.order },
      }
    : null;
}

function placed(keeping: Keeping, held: readonly MixMachine[]): Readonly<{ placing: Placing; pools: readonly MixPool[] }> {
  const { pools, order } = keeping;
  const placing = new Placing(
    { order },
    pools.map((pool) => ({
      price: pool.price,
      isOver: isOver(pool),
      // What has refused can be had again from the next instant on, as far as is known.
      availableSince: isOver(pool) ? Number.POSITIVE_INFINITY : (pool.refusedAt ?? Number.NEGATIVE_INFINITY) + 1,
      held: held.filter((one) => one.pool === pool.name).length,
      units: pool.units,
      orderHazard: pool.hazard,
    })),
  );
  placing.weigh(spotWanted(keeping));
  return { placing, pools };
}

/** The one that was ordered last, what is on its way before what is up. */
function youngest(machines: readonly MixMachine[]): MixMachine | null {
  return machines.reduce<MixMachine | null>((last, one) => {
    if (!last) return one;
    if (one.state !== last.state) return one.state === "coming" ? one : last;
    return one.orderedAt > last.orderedAt || (one.orderedAt === last.orderedAt && one.id > last.id) ? one : last;
  }, null);
}

/** Gaps as they ought to be: what is missing and none speaks of is a new one, what is not missing any more is called off, the youngest first. */
export function gapsToKeep(
  keeping: Keeping,
): Readonly<{ open: number; shrink: readonly Readonly<{ id: number; units: number }>[] }> {
  const missing = missingUnits(keeping);
  const known = keeping.gaps.reduce((sum, { units }) => sum + units, 0);
  if (missing >= known) return { open: missing - known, shrink: [] };
  let excess = known - missing;
  const shrink: { id: number; units: number }[] = [];
  for (const { id, units, disk } of [...keeping.gaps].sort((a, b) => b.since - a.since || b.id - a.id)) {
    if (excess <= 0) break;
    // A kept disk goes with its gap, as a whole.
    const taken = disk === null ? Math.min(units, excess) : units;
    shrink.push({ id, units: units - taken });
    excess -= taken;
  }
  return { open: Math.max(0, -excess), shrink };
}
