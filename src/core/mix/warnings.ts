import type { Warning } from "../warning";
import { compileMix } from "./compiled";
import { firstPlaces } from "./first-places";
import { type Mix, mostWanted } from "./mix";

/** What is odd about a mix (docs/model.md, Capacity mix). Pools are named, units counted. */
export type MixWarning =
  | Warning<"kept disks wait">
  | Warning<"one pool", { pool: string }>
  | Warning<"firm below floor", { firm: number; floor: number }>
  | Warning<"over its cap", { pool: string; cap: number; price: number }>
  | Warning<"hours below firm", { least: number; firm: number }>
  | Warning<"large first", { pool: string; units: number }>
  | Warning<"over what was seen", { pool: string; machines: number; seen: number }>
  | Warning<"no refill">
  /** What stands in never goes back: units that end at full price, and what an hour of the mix costs now and then. */
  | Warning<"one way", { units: number; perHour: number; perHourThen: number }>;

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
    if (cap != null && now > cap) warnings.push({ code: "over its cap", pool: name, cap, price: now });
  }
  if (mix.eviction === "keep disks") warnings.push({ code: "kept disks wait" });
  else if (mix.refillEveryMinutes === null) warnings.push({ code: "no refill" });
  if (mix.fallbackAfterMinutes !== null && mix.returnAfterMinutes === null) warnings.push(oneWay(mix, { most, spot, known }));
  const [only] = mix.pools;
  if (only && mix.pools.length === 1) warnings.push({ code: "one pool", pool: only.name });
  if (mix.floor !== null && mix.firm < mix.floor) warnings.push({ code: "firm below floor", firm: mix.firm, floor: mix.floor });
  if (typeof mix.wanted !== "number") {
    const least = Math.min(...mix.wanted.filter(({ units }) => units > 0).map(({ units }) => units));
    if (least < mix.firm) warnings.push({ code: "hours below firm", least, firm: mix.firm });
  }
  const places = firstPlaces(compileMix(mix, 1), spot);
  for (const [k, { name: pool }] of mix.pools.entries()) {
    const machines = places.filter((place) => place === k).length;
    const most = known.get(pool)?.mostAtOnce ?? 0;
    // Of a pool that nothing ever ran in nothing was seen.
    if (most > 0 && machines > most) warnings.push({ code: "over what was seen", pool, machines, seen: most });
  }
  for (const { name, unitsPerMachine } of mix.pools)
    if (unitsPerMachine > 1 && unitsPerMachine > spot * LARGE_SHARE)
      warnings.push({ code: "large first", pool: name, units: unitsPerMachine });
  return warnings;
}

type Standing = Readonly<{ most: number; spot: number; known: ReadonlyMap<string, PoolNow> }>;

/** Whatever is taken back once is at full price from then on, and what is kept of it goes on costing. */
function oneWay(mix: Mix, { most, spot, known }: Standing): MixWarning {
  const perUnit = mix.pools.map(
    ({ name, price, priceSeries, unitsPerMachine }) =>
      (known.get(name)?.price ?? price ?? priceSeries?.[0] ?? 0) / unitsPerMachine,
  );
  const mean = perUnit.reduce((sum, one) => sum + one, 0) / Math.max(1, perUnit.length);
  const disks = mix.eviction === "keep disks" ? spot * (mix.diskPrice ?? 0) : 0;
  return {
    code: "one way",
    units: spot,
    perHour: mix.firm * mix.firmPrice + spot * mean,
    perHourThen: most * mix.firmPrice + disks,
  };
}
