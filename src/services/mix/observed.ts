import {
  type Observed,
  type ObservedSpells,
  type PoolAnswer,
  type PoolObserved,
  type Rate,
  ratesObserved,
  spellsObserved,
} from "@/core/mix";
import { isRunningState, listedAt, type Resource } from "@/core/plan";
import { DAY_S, HOUR_S, type Instant } from "@/core/time";
import { type Db, evictionsOf, fullInventory, livesOf, spotAnswers } from "@/store";

/** What was seen of a size at spot price: in all zones together, and by zone. Instants in hours. */
export type SizeObserved = Observed &
  Readonly<{ mostAtOnce: ReadonlyMap<string, number>; spells: ReadonlyMap<string, ObservedSpells> }>;

const NOTHING_SEEN: SizeObserved = { gone: [], machineHours: 0, sharedHours: 0, mostAtOnce: new Map(), spells: new Map() };

/** How long back evictions and prices are looked at. */
export const SEEN_DAYS = 28;
/** What is thought of a size of which nothing was seen: one eviction in a hundred machine-hours, and little trust in it. */
const PRIOR = { shape: 1, rate: 100 };

/** What was seen of the sizes that a provider has in a region, over the weeks before an instant. */
export async function observedInRegion(
  db: Db,
  { provider, region }: Readonly<{ provider: string; region: string }>,
  at: Instant,
): Promise<ReadonlyMap<string, SizeObserved>> {
  // What was taken back is gone, and counts.
  const kin = (await fullInventory(db)).filter(({ fields }) => fields.provider === provider && fields.region === region);
  return sizesSeen(db, kin, { from: at - SEEN_DAYS * DAY_S, to: at });
}

/** What that says of a size in a zone. */
export function poolObserved(
  sizes: ReadonlyMap<string, SizeObserved>,
  { size, zone }: Place,
): PoolObserved & Readonly<{ rate: Rate; own: SizeObserved }> {
  const own = sizes.get(size) ?? NOTHING_SEEN;
  const { hazard, reclaim } = ratesObserved(own, PRIOR);
  const waves = reclaim && { count: reclaim.count, perHour: reclaim.rate.shape / reclaim.rate.rate, share: reclaim.share };
  return { rate: hazard, waves, spells: own.spells.get(zone) ?? null, own };
}

type Span = Readonly<{ from: Instant; to: Instant }>;
/** How many ran, from each instant on. */
type Steps = readonly Readonly<{ at: Instant; level: number }>[];

/** Evictions, machine-hours and answers to orders over a span, by size, of what was spot; all as things were listed then. */
async function sizesSeen(db: Db, kin: readonly Resource[], span: Span): Promise<ReadonlyMap<string, SizeObserved>> {
  const spot = new Map(kin.filter(({ fields }) => fields.purchase === "spot").map((resource) => [resource.id, resource]));
  const [evictions, lives, answers] = await Promise.all([
    evictionsOf(db, [...spot.keys()], span),
    livesOf(db, [...spot.keys()], span),
    spotAnswers(db, span),
  ]);
  const placeAt = (id: string, at: Instant): Place => {
    const { size = "", zone = "" } = listedAt(spot.get(id) as Resource, at).fields;
    return { size, zone };
  };
  const turns = new ByPlace<{ at: Instant; by: number }>();
  for (const [id, life] of lives) {
    for (const { from, to, state, level } of life) {
      const begin = Math.max(from, span.from);
      if (!isRunningState(state) || begin >= to) continue;
      turns.add(placeAt(id, begin), { at: begin, by: level }, { at: to, by: -level });
    }
  }
  const gone = new ByPlace<Instant>();
  for (const { resourceId, at } of evictions) gone.add(placeAt(resourceId, at), at);
  const asked = new ByPlace<PoolAnswer>();
  for (const { size, zone, at, isRefused } of answers) asked.add({ size, zone }, { at: at / HOUR_S, isRefused });
  const sizes = new Set([...turns.sizes(), ...gone.sizes(), ...asked.sizes()]);
  return new Map([...sizes].map((size) => [size, sizeOf({ turns, gone, asked }, size, span.to)]));
}

type Place = Readonly<{ size: string; zone: string }>;

/** Lists by size and zone. */
class ByPlace<T> {
  private readonly bySize = new Map<string, Map<string, T[]>>();

  add({ size, zone }: Place, ...more: readonly T[]): void {
    const own = this.of(size);
    this.bySize.set(size, own);
    const list = own.get(zone);
    if (list) list.push(...more);
    else own.set(zone, [...more]);
  }

  sizes(): Iterable<string> {
    return this.bySize.keys();
  }

  /** Of one size, by zone. */
  of(size: string): Map<string, T[]> {
    return this.bySize.get(size) ?? new Map();
  }
}

type Raw = Readonly<{
  turns: ByPlace<{ at: Instant; by: number }>;
  gone: ByPlace<Instant>;
  asked: ByPlace<PoolAnswer>;
}>;

function sizeOf({ turns, gone, asked }: Raw, size: string, now: Instant): SizeObserved {
  const steps = new Map([...turns.of(size)].map(([zone, own]) => [zone, stepsOf(own)]));
  const spells = [...asked.of(size)].flatMap(([zone, answers]) => {
    const seen = spellsObserved(answers, now / HOUR_S);
    return seen ? [[zone, seen] as const] : [];
  });
  return {
    gone: [...gone.of(size)].flatMap(([zone, at]) => eventsOf(at, steps.get(zone) ?? [])),
    machineHours: hoursOf(steps, ({ level }) => level),
    sharedHours: hoursOf(steps, ({ level }) => (level > 1 ? 1 : 0)),
    mostAtOnce: new Map([...steps].map(([zone, own]) => [zone, own.reduce((most, { level }) => Math.max(most, level), 0)])),
    spells: new Map(spells),
  };
}

function stepsOf(turns: readonly Readonly<{ at: Instant; by: number }>[]): Steps {
  const steps: { at: Instant; level: number }[] = [];
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

function hoursOf(byZone: ReadonlyMap<string, Steps>, weight: (step: Steps[number]) => number): number {
  let seconds = 0;
  for (const steps of byZone.values())
    steps.forEach((step, i) => {
      const next = steps[i + 1];
      if (next) seconds += (next.at - step.at) * weight(step);
    });
  return seconds / HOUR_S;
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
