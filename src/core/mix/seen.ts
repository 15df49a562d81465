import { HOUR_S, type Instant } from "../time";
import type { PoolAnswer, PoolPast } from "./spells";
import type { Observed } from "./waves";

type Place = Readonly<{ size: string; zone: string }>;

/** What happened to spot machines over a span, by size and zone: how many more or fewer ran, which were evicted, what orders were answered. */
export type SpotPast = Readonly<{
  turns: readonly (Place & Readonly<{ at: Instant; by: number }>)[];
  gone: readonly (Place & Readonly<{ at: Instant }>)[];
  answers: readonly (Place & Readonly<{ at: Instant; isRefused: boolean }>)[];
}>;

/** What was seen of a size at spot price: in all zones together, and by zone. Instants in hours. */
export type SizeSeen = Observed & Readonly<{ mostAtOnce: ReadonlyMap<string, number>; pasts: ReadonlyMap<string, PoolPast> }>;

export const NOTHING_SEEN: SizeSeen = {
  gone: [],
  machineHours: 0,
  hoursHeld: new Map(),
  mostAtOnce: new Map(),
  pasts: new Map(),
};

/** The same by size, up to now. */
export function sizesSeen({ turns, gone, answers }: SpotPast, now: Instant): ReadonlyMap<string, SizeSeen> {
  const raw = { turns: new ByPlace<Turn>(), gone: new ByPlace<Instant>(), asked: new ByPlace<PoolAnswer>() };
  for (const { at, by, ...place } of turns) raw.turns.add(place, { at, by });
  for (const { at, ...place } of gone) raw.gone.add(place, at);
  for (const { at, isRefused, ...place } of answers) raw.asked.add(place, { at: at / HOUR_S, isRefused });
  const sizes = new Set([...raw.turns.sizes(), ...raw.gone.sizes(), ...raw.asked.sizes()]);
  return new Map([...sizes].map((size) => [size, sizeOf(raw, size, now)]));
}

type Turn = Readonly<{ at: Instant; by: number }>;
/** How many ran, from each instant on. */
type Steps = readonly Readonly<{ at: Instant; level: number }>[];

/** Lists by size and zone. */
class ByPlace<T> {
  private readonly bySize = new Map<string, Map<string, T[]>>();

  add({ size, zone }: Place, one: T): void {
    const own = this.of(size);
    this.bySize.set(size, own);
    const list = own.get(zone);
    if (list) list.push(one);
    else own.set(zone, [one]);
  }

  sizes(): Iterable<string> {
    return this.bySize.keys();
  }

  /** Of one size, by zone. */
  of(size: string): Map<string, T[]> {
    return this.bySize.get(size) ?? new Map();
  }
}

type Raw = Readonly<{ turns: ByPlace<Turn>; gone: ByPlace<Instant>; asked: ByPlace<PoolAnswer> }>;

function sizeOf({ turns, gone, asked }: Raw, size: string, now: Instant): SizeSeen {
  const steps = new Map([...turns.of(size)].map(([zone, own]) => [zone, stepsOf(own)]));
  const events = new Map([...gone.of(size)].map(([zone, at]) => [zone, eventsOf(at, steps.get(zone) ?? [])]));
  const pasts = [...asked.of(size)].map(([zone, answers]): [string, PoolPast] => [
    zone,
    {
      held: (steps.get(zone) ?? []).map(({ at, level }) => ({ at: at / HOUR_S, level })),
      evictions: (events.get(zone) ?? []).flatMap(({ at, count }) => (count === 1 ? [at] : [])),
      answers,
      now: now / HOUR_S,
    },
  ]);
  const hoursHeld = hoursByLevel(steps);
  return {
    gone: [...events.values()].flat(),
    machineHours: [...hoursHeld].reduce((sum, [level, hours]) => sum + level * hours, 0),
    hoursHeld,
    mostAtOnce: new Map([...steps].map(([zone, own]) => [zone, own.reduce((most, { level }) => Math.max(most, level), 0)])),
    pasts: new Map(pasts),
  };
}

function stepsOf(turns: readonly Turn[]): Steps {
  const steps: { at: number; level: number }[] = [];
  let level = 0;
  for (const { at, by } of [...turns].sort((a, b) => a.at - b.at)) {
    level += by;
    const last = steps.at(-1);
    // What ends and what begins at one instant is one step.
    if (last?.at === at) last.level = level;
    else steps.push({ at, level });
  }
  return steps;
}

function hoursByLevel(byZone: ReadonlyMap<string, Steps>): ReadonlyMap<number, number> {
  const hours = new Map<number, number>();
  for (const steps of byZone.values())
    steps.forEach(({ at, level }, i) => {
      const next = steps[i + 1];
      if (next && level > 0) hours.set(level, (hours.get(level) ?? 0) + (next.at - at) / HOUR_S);
    });
  return hours;
}

/** Those that went in the same instant, of those that were there before. */
function eventsOf(gone: readonly Instant[], steps: Steps): { at: number; count: number; held: number }[] {
  const counts = new Map<Instant, number>();
  for (const at of gone) counts.set(at, (counts.get(at) ?? 0) + 1);
  return [...counts].map(([at, count]) => ({ at: at / HOUR_S, count, held: Math.max(count, levelBefore(steps, at)) }));
}

function levelBefore(steps: Steps, at: Instant): number {
  let [low, high] = [0, steps.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((steps[middle] as Steps[number]).at < at) low = middle + 1;
    else high = middle;
  }
  return steps[low - 1]?.level ?? 0;
}
