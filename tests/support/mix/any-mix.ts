import { type Mix, mixSchema, type Order } from "@/core/mix";
import { HOUR } from "../trusted";

/** A group of one of the clouds, with what its machines may be. */
export type AnyGroup = Readonly<{ name: string; account: string; small: string; large: string; zones: readonly string[] }>;

export const ANY_GROUPS: readonly AnyGroup[] = [
  {
    name: "viewer-tiles-north",
    account: "skerry-survey",
    small: "sloop-4",
    large: "ketch-8",
    zones: ["fjord-1a", "fjord-1b", "fjord-1c"],
  },
  { name: "viewer-tiles-south", account: "skerry-south", small: "heron-4", large: "heron-8", zones: ["tasman-2a", "tasman-2b"] },
];

/** Chance that is the same again. */
export type Chance = Readonly<{ below: (n: number) => number; pick: <T>(list: readonly T[]) => T }>;

export function seeded(seed: number): Chance {
  let state = seed * 7919;
  const below = (n: number) => {
    state = (state * 48_271) % 2_147_483_647;
    return state % n;
  };
  return { below, pick: (list) => list[below(list.length)] as (typeof list)[number] };
}

/** Nine by the morning, five in the afternoon, else two (UTC), of a mix that is soon another. */
export const planOfAny = ({ name, small, zones: [zone] }: AnyGroup) => `
umbrik: 1
schedules:
  - name: counts
    zone: UTC
    outside: 2
    rows:
      - { day: daily, spans: ["06:00-12:00 x9", "14:00-20:00 x5"] }
fleets:
  - name: tiles
    select: name = ${name}
    hours: counts
    mix: { wanted: 9, firm: 2, firmPrice: 0.1, eviction: drop, order: even, pools: [{ name: "${small} ${zone}", price: 0.06 }] }
`;

export function anyWantedAt(t: number): number {
  const hour = Math.floor(t / HOUR) % 24;
  return hour >= 6 && hour < 12 ? 9 : hour >= 14 && hour < 20 ? 5 : 2;
}

/** True where what is wanted has not changed for as long as a fall takes. */
export const isSteadyAt = (t: number): boolean => [1, 2].every((hours) => anyWantedAt(t - hours * HOUR) === anyWantedAt(t));

const ORDERS: readonly Order[] = ["even", "cheapest", "steadiest", "blend"];

export function anyMix({ small, large, zones }: AnyGroup, { below, pick }: Chance): Mix {
  const all = zones.flatMap((zone) => [
    { name: `${small} ${zone}`, price: 0.05, hazard: 0.01, unitsPerMachine: 1 },
    { name: `${large} ${zone}`, price: 0.1, hazard: 0.02, unitsPerMachine: 2 },
  ]);
  const some = all.filter(() => below(3) > 0);
  return mixSchema.parse({
    wanted: 9,
    firm: below(5),
    firmPrice: 0.1,
    setupMinutes: below(6),
    provisionMinutes: 3,
    eviction: pick(["drop", "keep disks"]),
    order: pick(ORDERS),
    refillEveryMinutes: pick([null, 5, 10]),
    fallbackAfterMinutes: pick([null, 10, 20]),
    returnAfterMinutes: pick([null, 30, 60]),
    floor: 2,
    pools: some.length > 0 ? some : all,
  });
}
