import { compileMix } from "./compiled";
import { firstPlaces } from "./first-places";
import { type Mix, mostWanted } from "./mix";

/** What is odd about a mix (docs/model.md, Capacity mix). Pools are named, units counted. */
export type MixWarning =
  | Readonly<{ kind: "kept disks wait" }>
  | Readonly<{ kind: "one pool"; pool: string }>
  | Readonly<{ kind: "firm below floor"; firm: number; floor: number }>
  | Readonly<{ kind: "over its cap"; pool: string; cap: number; price: number }>
  | Readonly<{ kind: "hours below firm"; least: number; firm: number }>
  | Readonly<{ kind: "large first"; pool: string; units: number }>
  | Readonly<{ kind: "over what was seen"; pool: string; machines: number; seen: number }>
  | Readonly<{ kind: "no refill" }>;

/** Units that are gone at one blow where a machine of so many goes. */
const LARGE_SHARE = 0.25;

/** What is known of a pool: its price now, per machine-hour, and the most machines that it was ever seen to hold at once. */
export type PoolNow = Readonly<{ price: number; mostAtOnce: number }>;

/** Warnings, the gravest first. Of a pool that is not known now, its first price counts. */
export function mixWarnings(mix: Mix, known: ReadonlyMap<string, PoolNow> = new Map()): readonly MixWarning[] {
  const most = mostWanted(mix.wanted);
  const spot = most - mix.firm;
  const warnings: MixWarning[] = [];
  if (spot <= 0) return warnings;
  for (const { name, cap, price, priceSeries } of mix.pools) {
    const now = known.get(name)?.price ?? priceSeries?.[0] ?? price ?? 0;
    if (cap != null && now > cap) warnings.push({ kind: "over its cap", pool: name, cap, price: now });
  }
  if (mix.eviction === "keep disks") warnings.push({ kind: "kept disks wait" });
  else if (mix.refillEveryMinutes === null) warnings.push({ kind: "no refill" });
  const [only] = mix.pools;
  if (only && mix.pools.length === 1) warnings.push({ kind: "one pool", pool: only.name });
  if (mix.floor !== null && mix.firm < mix.floor) warnings.push({ kind: "firm below floor", firm: mix.firm, floor: mix.floor });
  if (typeof mix.wanted !== "number") {
    const least = Math.min(...mix.wanted.filter(({ units }) => units > 0).map(({ units }) => units));
    if (least < mix.firm) warnings.push({ kind: "hours below firm", least, firm: mix.firm });
  }
  const places = firstPlaces(compileMix(mix, 1), spot);
  for (const [k, { name: pool }] of mix.pools.entries()) {
    const machines = places.filter((place) => place === k).length;
    const most = known.get(pool)?.mostAtOnce ?? 0;
    // Of a pool that nothing ever ran in nothing was seen.
    if (most > 0 && machines > most) warnings.push({ kind: "over what was seen", pool, machines, seen: most });
  }
  for (const { name, unitsPerMachine } of mix.pools)
    if (unitsPerMachine > 1 && unitsPerMachine > spot * LARGE_SHARE)
      warnings.push({ kind: "large first", pool: name, units: unitsPerMachine });
  return warnings;
}
