import { providerOf } from "../../../standin/world/provider";
import { type Change, isOn, type State, type Unit } from "../../../standin/world/types";
import { FLEETS, type Rule, type rules, type Said, type SlowFleet, saidAt } from "./hours";
import type { Life } from "./ledger";

const STEP = 300;

export type SlowHold = Readonly<{ unit: string; level: number; from: number; to: number }>;
export type Plans = Readonly<{
  rules: ReturnType<typeof rules>;
  holds: readonly SlowHold[];
  teamOf: (unit: Unit) => string;
  ownSize: (unit: Unit) => number;
}>;

export const fleetOf = (unit: Unit, { teamOf }: Pick<Plans, "teamOf">): SlowFleet | null =>
  FLEETS.find(({ has }) => has(unit, teamOf(unit))) ?? null;

export const isGuarded = ({ tags }: Unit) => tags["umbrik-guard"] !== undefined;

const known = new WeakMap<Rule, Map<number, Said>>();

function remembered(rule: Rule, t: number): Said {
  const own = known.get(rule) ?? new Map<number, Said>();
  known.set(rule, own);
  const said = own.has(t) ? (own.get(t) as Said) : saidAt(rule, t);
  own.set(t, said);
  return said;
}

/** What is due of a unit at an instant: a hold, else its hours with a rise brought forward by the lead, else nothing. */
export function dueAt(unit: Unit, t: number, plans: Plans): number | null {
  const fleet = fleetOf(unit, plans);
  if (!fleet || isGuarded(unit)) return null;
  const held = plans.holds.find((one) => one.unit === unit.id && one.from <= t && t < one.to);
  if (held) return held.level;
  const name = fleet.hours(unit);
  const rule = name === null ? undefined : plans.rules[name];
  if (!rule) return null;
  const level = (at: number) => {
    const said = remembered(rule, at);
    return said === "own" ? plans.ownSize(unit) : said;
  };
  const [now, soon] = [level(t), level(t + fleet.leadMinutes * 60)];
  return now !== null && soon !== null && soon > now ? soon : now;
}

function canHibernate(unit: Unit): boolean {
  const { os, memoryGibMax } = providerOf(unit.provider).hibernate;
  return unit.kind === "machine" && os.includes(unit.os) && unit.memoryGib <= memoryGibMax;
}

/** What a unit will be from `from` to `to` if plans are kept and nothing else happens, five minutes at a time. */
export function lifeAhead(
  unit: Unit,
  life: Life,
  { from, to, plans }: Readonly<{ from: number; to: number; plans: Plans }>,
): Life {
  const ahead: Change[] = [...life];
  const last = life.at(-1);
  const fleet = fleetOf(unit, plans);
  if (!last || !fleet) return ahead;
  let { state, level } = last;
  for (let t = from; t < to; t = (Math.floor(t / STEP) + 1) * STEP) {
    const next = moved(unit, { state, level }, dueAt(unit, t, plans), fleet);
    if (next.state === state && next.level === level) continue;
    ({ state, level } = next);
    ahead.push({ at: t, state, level });
  }
  return ahead;
}

type Now = Readonly<{ state: State; level: number }>;

function moved(unit: Unit, now: Now, due: number | null, fleet: SlowFleet): Now {
  const state = now.state === "starting" ? "running" : now.state;
  const stays = { state, level: now.level };
  if (due === null || state === "gone") return { ...now };
  const most = Math.min(due, unit.kind === "machine" ? 1 : unit.levelMax);
  if (fleet.byHand && most > now.level) return stays;
  if (most > 0) return { state: "running", level: most };
  if (state === "halted") return providerOf(unit.provider).billedWhenHalted ? { state: "stopped", level: 0 } : stays;
  if (!isOn(state)) return stays;
  return { state: fleet.hibernates && canHibernate(unit) ? "hibernated" : "stopped", level: 0 };
}
