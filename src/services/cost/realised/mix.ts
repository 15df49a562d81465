import { amountOfMoney } from "@/core/levers";
import {
  asObserved,
  daysSeen,
  joinStretches,
  type Mix,
  mixFigures,
  mixSchema,
  mostWanted,
  poolPlace,
  poolReader,
  type SeenPrices,
  type SizeSeen,
  simulateStretch,
  trialSeconds,
  withNextDay,
} from "@/core/mix";
import { capabilitiesFor, type Resource } from "@/core/plan";
import { type Amount, computePerSecond, type DatedCard, type PriceHistory, roughlyPerHour } from "@/core/pricing";
import type { Percentile } from "@/core/projection";
import type { DayCompared, DueStretch } from "@/core/realised";
import { cardAt } from "@/core/spend";
import { DAY_S, HOUR_S, type Instant, MINUTE_S } from "@/core/time";
import { pricedMix, pricesSeen, SEEN_DAYS } from "../../mix";
import type { RealisedInput } from "./day";

/** Trials for what prices did on each of the days before; fewer where they would take longer than so many seconds. */
const TRIALS = 16;
const SECONDS_MAX = 2;
const SEED = 1;

/** A day with what its mix made dearer (above 0) or cheaper: as a cause of its own. */
export function withMix(compared: DayCompared, difference: Amount): DayCompared {
  if (difference === 0n) return compared;
  const gap = { ...compared.gap, "the mix": (compared.gap["the mix"] + difference) as Amount };
  return { ...compared, paid: (compared.paid + difference) as Amount, gap };
}

type OfDay = Readonly<{
  due: readonly DueStretch[];
  cards: readonly DatedCard[];
  input: RealisedInput;
  /** What was seen in the group's region before the day. */
  seen: ReadonlyMap<string, SizeSeen>;
}>;

/** What a mix was expected to save on a day against the group's own price; null where it cannot be told, or would take too long. */
export function mixForecastOf(mix: Mix | undefined, group: Resource, { due, cards, input, seen }: OfDay): Percentile | null {
  const card = cardAt(cards, input.from);
  if (!mix || !card) return null;
  const { from, to } = input;
  const days = (to - from) / (24 * HOUR_S);
  const byHours = due.flatMap(({ from: start, to: end, level }) =>
    level === null ? [] : [{ from: (start - from) / HOUR_S, to: (end - from) / HOUR_S, units: level as number }],
  );
  // Where no hours say, what the mix says for itself.
  const wanted = byHours.length > 0 ? byHours : [{ from: 0, to: 24 * days, units: mostWanted(mix.wanted) }];
  const usual = capabilitiesFor(group, input.snapshot.capabilities)?.usualS.start ?? 0;
  const knownOf = poolReader(seen);
  const pools = mix.pools.map((pool) => {
    const place = poolPlace(pool.name);
    return place ? asObserved(pool, knownOf(place)) : pool;
  });
  const { history } = input.prices;
  const priced = pricedMix({ ...mix, pools }, group, {
    book: history.bookAt(from),
    capabilities: input.snapshot.capabilities,
  });
  const parsed = mixSchema.safeParse({
    ...priced,
    provisionMinutes: mix.provisionMinutes ?? usual / MINUTE_S,
    wanted,
    firm: Math.min(mix.firm, mostWanted(wanted)),
  });
  if (!parsed.success) return null;
  const prices = seenBefore(parsed.data, group, { history, at: from });
  // What the day would ask nobody knew before it: it is tried with what prices did on each of the days before.
  const turns = Math.max(1, daysSeen(parsed.data, prices));
  const trials = Math.min(TRIALS, Math.floor(SECONDS_MAX / (turns * trialSeconds(parsed.data, days))));
  if (trials < 1) return null;
  const parts = Array.from({ length: turns }, (_, turn) =>
    simulateStretch(withNextDay(parsed.data, prices, { turn, hours: Math.ceil(24 * days) }), {
      seed: SEED,
      days,
      first: turn * trials,
      count: trials,
      fanPoints: 0,
    }),
  );
  const { cost } = mixFigures(joinStretches(parts).outcomes);
  // Each machine has disks of its own, which the group without members has not.
  const sum = (perHour: (units: number) => number) =>
    wanted.reduce((total, one) => total + (one.to - one.from) * perHour(one.units), 0);
  const disks = sum((units) => units * roughlyPerHour(card.always));
  const own = sum((units) => roughlyPerHour(computePerSecond(card, units as Resource["level"])));
  return {
    p5: amountOfMoney(own - disks - cost.p95),
    p50: amountOfMoney(own - disks - cost.p50),
    p95: amountOfMoney(own - disks - cost.p5),
  };
}

/** The price of each hour of the weeks before an instant, by pool, with what beside compute a machine of it costs. */
function seenBefore(
  { pools }: Mix,
  { fields }: Resource,
  { history, at }: Readonly<{ history: PriceHistory; at: Instant }>,
): SeenPrices {
  const { provider = "", region = "", os = "" } = fields;
  return Object.fromEntries(
    pools.flatMap(({ name, price }) => {
      const place = poolPlace(name);
      if (!place) return [];
      const seen = pricesSeen(history, { provider, region, os, ...place }, { from: at - SEEN_DAYS * DAY_S, to: at });
      // Of the day itself only what the licence costs is taken.
      const besides = (price ?? 0) - (seen.at(-1) ?? 0);
      return [[name, seen.slice(0, -1).map((compute) => compute + besides)]];
    }),
  );
}

/** What several groups were expected to save: their percentiles added, which is never narrower than they are together. */
export function addForecasts(forecasts: readonly (Percentile | null)[]): Percentile | null {
  const known = forecasts.filter((one) => one !== null);
  if (known.length === 0) return null;
  const sum = (of: (one: Percentile) => bigint) => known.reduce((total, one) => total + of(one), 0n) as Amount;
  return { p5: sum(({ p5 }) => p5), p50: sum(({ p50 }) => p50), p95: sum(({ p95 }) => p95) };
}
