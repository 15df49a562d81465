import {
  asObserved,
  type Figure,
  joinStretches,
  type Mix,
  mixFigures,
  mixSchema,
  poolPlace,
  poolReader,
  provisionMinutes,
  type SeenPrices,
  simulateStretch,
  sizesSeen,
  withPricesAhead,
} from "@/core/mix";
import { spotRate } from "../../../standin/world/prices";
import { providerOf } from "../../../standin/world/provider";
import { KeptGroup, type Measured } from "./month";

/**
 * Worlds of the stand-in, each with a seed of its own, in which a group is kept at its mix by the rule that rounds go by. After
 * one, four and twelve weeks the month to come is foretold from what its keeper saw by then (evictions, what ran, the answers to
 * orders, prices), as the workbench does it, and held to what came. The world is no model: it takes machines back by the hour of
 * the day and in waves, sooner where there are none to be had, and its prices wander.
 */
const DAYS = 28;
const DAY = 86_400;
const TRIALS = 400;
const TURNS = 200;
/** Days of history, of which what is older than four weeks is not looked at. */
export const HISTORIES = [7, 28, 84] as const;
const SEEN_DAYS = 28;
const FIRM = { size: "ketch-8", zones: ["fjord-1a", "fjord-1b", "fjord-1c"] };
const POOLS = ["ketch-8 fjord-1a", "ketch-8 fjord-1b", "ketch-8 fjord-1c", "brig-16 fjord-1a"];
const FIRM_PRICE = 0.337;

/** Twelve by day, six by night (UTC). */
const wantedAt = (t: number) => (Math.floor(t / 3600) % 24 >= 6 && Math.floor(t / 3600) % 24 < 20 ? 12 : 6);

/** The price of each hour that was seen by then, the last of now. */
function pricesBy(kept: KeptGroup, { from, to }: { from: number; to: number }): SeenPrices {
  const priceOf = (name: string, at: number) =>
    Number(spotRate(kept.world.seed, { ...kept.group, ...poolPlace(name) }, Math.floor(at / DAY) * DAY));
  const hours = Math.max(1, Math.round((to - from) / 3600));
  return Object.fromEntries(
    POOLS.map((name) => [name, Array.from({ length: hours }, (_, h) => priceOf(name, to - (hours - 1 - h) * 3600))]),
  );
}

/** The mix as it is known after so many days. */
function mixKnown(kept: KeptGroup, known: { from: number; to: number }): { mix: Mix; prices: SeenPrices } {
  const { from, to } = known;
  const prices = pricesBy(kept, known);
  const knownOf = poolReader(sizesSeen(kept.seenSince(from), to));
  const wanted = Array.from({ length: DAYS * 24 }, (_, h) => ({ from: h, to: h + 1, units: wantedAt(to + h * 3600) }));
  const mix = mixSchema.parse({
    wanted,
    firm: 3,
    firmPrice: FIRM_PRICE,
    setupMinutes: 4,
    eviction: "drop",
    pools: POOLS.map((name) => ({
      name,
      unitsPerMachine: name.startsWith("brig") ? 2 : 1,
      price: prices[name]?.at(-1),
      hazard: { shape: 1, rate: 1 },
    })),
    order: (["even", "blend", "cheapest", "steadiest"] as const)[kept.world.seed % 4],
    refillEveryMinutes: 5,
    provisionMinutes: provisionMinutes(kept.started, providerOf(kept.group.provider).usualS.start),
    fallbackAfterMinutes: 20,
    returnAfterMinutes: 60,
    floor: 3,
  });
  const pools = mix.pools.map((pool) => asObserved(pool, knownOf(poolPlace(pool.name) as { size: string; zone: string })));
  return { mix: { ...mix, pools }, prices };
}

function foretold(kept: KeptGroup, days: number): Record<What, Figure> {
  const to = kept.world.doneUntil;
  const { mix, prices } = mixKnown(kept, { from: to - Math.min(days, SEEN_DAYS) * DAY, to });
  const parts = Array.from({ length: TURNS }, (_, turn) =>
    simulateStretch(withPricesAhead(mix, prices, { turn, days: DAYS }), {
      seed: kept.world.seed,
      days: DAYS,
      first: (turn * TRIALS) / TURNS,
      count: TRIALS / TURNS,
      fanPoints: 0,
    }),
  );
  return mixFigures(joinStretches(parts).outcomes);
}

export const WHAT = ["evictions", "missingUnitHours", "cost"] as const;
type What = (typeof WHAT)[number];
export type Month = Readonly<{ history: number; what: What; was: number; foretold: Figure }>;

/** The months of one world. */
export function monthsOf(seed: number): Month[] {
  const kept = new KeptGroup(seed, wantedAt, FIRM);
  const start = kept.world.doneUntil + DAY;
  kept.mix = mixKnown(kept, { from: kept.world.doneUntil, to: kept.world.doneUntil }).mix;
  kept.run(start);
  const told: { history: number; figures: Record<What, Figure>; was: Measured }[] = [];
  const stops = [...new Set(HISTORIES.flatMap((days) => [days, days + DAYS]))].sort((a, b) => a - b);
  for (const days of stops) {
    const part = kept.run(start + days * DAY);
    for (const { history, was } of told) if (days <= history + DAYS) for (const what of WHAT) was[what] += part[what];
    if (HISTORIES.some((history) => history === days))
      told.push({ history: days, figures: foretold(kept, days), was: { evictions: 0, missingUnitHours: 0, cost: 0 } });
  }
  return told.flatMap(({ history, figures, was }) =>
    WHAT.map((what) => ({ history, what, was: was[what], foretold: figures[what] })),
  );
}

/** What the months of some worlds came to against what was foretold, of one figure (after one length of history, or all). */
export function heldShare(months: readonly Month[]): Readonly<{ held: number; above: number; words: string }> {
  const share = (is: (one: Month) => boolean) => months.filter(is).length / months.length;
  const mean = (of: (one: Month) => number) => (months.reduce((sum, one) => sum + of(one), 0) / months.length).toFixed(1);
  const held = share(({ was, foretold: { p5, p95 } }) => was >= p5 && was <= p95);
  const above = share(({ was, foretold: { p50 } }) => was > p50);
  const [p5, p50, p95] = [
    mean(({ foretold: one }) => one.p5),
    mean(({ foretold: one }) => one.p50),
    mean(({ foretold: one }) => one.p95),
  ];
  const words = `${Math.round(100 * held)} % of ${months.length} within the 90 % interval, ${Math.round(100 * above)} % above its middle; foretold ${p50} (${p5} to ${p95}), came ${mean(({ was }) => was)}`;
  return { held, above, words };
}
