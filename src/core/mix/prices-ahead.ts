import { WEEK_HOURS } from "../time";
import { draw, drawGamma, drawNormal, type Key, keyOf, under, wordOf } from "./draws";
import type { Mix } from "./mix";
import { poolPlace } from "./pool-name";

const DAY_HOURS = 24;

/** The price of each hour that was seen of some pools, per machine-hour, the oldest first and the last of now. */
export type SeenPrices = Readonly<Record<string, readonly number[]>>;

/** Hourly prices by whole weeks, the latest first; what is left at the beginning is no week. */
export function weeksOf(prices: readonly number[]): readonly (readonly number[])[] {
  const count = Math.floor(prices.length / WEEK_HOURS);
  return Array.from({ length: count }, (_, w) =>
    prices.slice(prices.length - (w + 1) * WEEK_HOURS, prices.length - w * WEEK_HOURS),
  );
}

/** The whole weeks that are known of the prices of all pools of a mix; null where it has none. */
export function weeksSeen(mix: Mix, seen: SeenPrices): number | null {
  const counts = mix.pools.map(({ name }) => weeksOf(seen[name] ?? []).length);
  return counts.length === 0 ? null : Math.min(...counts);
}

export type Ahead = Readonly<{
  /** Pools of one size draw the same weeks: their prices were what they were at the same time. */
  size: string;
  /** Each turn draws anew. */
  turn: number;
  /** How many weeks are to come. */
  count: number;
}>;

/** What is thought of how weeks differ in their level before any was seen: by a tenth, as if three had said so. */
const LEVELS_PRIOR = { deviation: 0.1, weeks: 3 };
/** Prices wander: of how a week lies off the long run, the share that the weeks about it have in common with it. */
const IN_COMMON = 0.1;
/** A price does not fall to nothing. */
const LEAST_LEVEL = 0.2;
const [WEEKS, LEVELS, SPREAD] = [1, 2, 3];

/**
 * The hourly prices of weeks to come: whole weeks of those that were seen, at least one, drawn with replacement, each at a level of
 * its own. Levels lie about a mean that so few weeks do not say exactly, by a spread that they do not either (a normal whose mean
 * and variance are drawn once a turn, by what the weeks say and what was thought before).
 */
export function pricesAhead(weeks: readonly (readonly number[])[], { size, turn, count }: Ahead): number[] {
  const key = under(keyOf(turn), wordOf(size));
  const [weekKey, levelKey, spreadKey] = [WEEKS, LEVELS, SPREAD].map((what) => under(key, what)) as [Key, Key, Key];
  const levels = weeks.map(meanOf);
  const middle = meanOf(levels);
  if (middle === 0) return Array.from({ length: count }, () => weeks[0] as readonly number[]).flat();
  const apart = levels.reduce((sum, level) => sum + (level / middle - 1) ** 2, 0) / (1 - IN_COMMON);
  const squares = LEVELS_PRIOR.weeks * LEVELS_PRIOR.deviation ** 2 + apart;
  const deviation = Math.sqrt(squares / (2 * drawGamma(spreadKey, (LEVELS_PRIOR.weeks + weeks.length - 1) / 2)));
  // The mean of so many weeks lies off the long run, and so will that of those to come.
  const off = Math.sqrt(IN_COMMON + (1 - IN_COMMON) / weeks.length) * drawNormal(levelKey, 0);
  const ahead = Math.sqrt(IN_COMMON) * drawNormal(levelKey, 1);
  return Array.from({ length: count }, (_, i) => {
    const week = weeks[Math.floor(draw(weekKey.a, weekKey.b, i) * weeks.length)] as readonly number[];
    const own = Math.sqrt(1 - IN_COMMON) * drawNormal(levelKey, i + 2);
    const level = Math.max(LEAST_LEVEL, 1 + deviation * (off + ahead + own));
    const seen = meanOf(week);
    return seen === 0 ? week : week.map((price) => (price / seen) * middle * level);
  }).flat();
}

type Weeks = readonly (readonly number[])[];

/** A mix over so many days at prices as they may come, for pools whose price was seen to move over a week or longer; others keep theirs. */
export function withPricesAhead(mix: Mix, seen: SeenPrices, { turn, days }: Readonly<{ turn: number; days: number }>): Mix {
  return overWeeks(mix, seen, { days, laid: (weeks, size, count) => pricesAhead(weeks, { size, turn, count }) });
}

/** The same at the prices that were seen, one week after the other as they were, and again. */
export function withPricesAgain(mix: Mix, seen: SeenPrices, days: number): Mix {
  const laid = (weeks: Weeks, _: string, count: number) =>
    Array.from({ length: count }, (__, i) => weeks[weeks.length - 1 - (i % weeks.length)] as readonly number[]).flat();
  return overWeeks(mix, seen, { days, laid });
}

/**
 * A mix over its next day at prices as they may come: each pool at the price that was seen last, moved hour by hour as it
 * moved over the `turn`-th of the days before, which is the same for all. Pools of which no such day was seen keep theirs.
 */
export function withNextDay(mix: Mix, seen: SeenPrices, { turn, hours }: Readonly<{ turn: number; hours: number }>): Mix {
  return {
    ...mix,
    pools: mix.pools.map((pool) => {
      const prices = seen[pool.name] ?? [];
      const last = prices.at(-1);
      const start = prices.length - DAY_HOURS * (turn + 1);
      const before = prices[start - 1];
      if (last === undefined || before === undefined) return pool;
      const { price: _, priceSeries: __, ...rest } = pool;
      const moved = (i: number) => Math.max(0, last + (prices[start + (i % DAY_HOURS)] as number) - before);
      return { ...rest, priceSeries: Array.from({ length: hours }, (___, i) => moved(i)) };
    }),
  };
}

/** How many days were seen of the pool that most is known of, each with the hour before it. */
export function daysSeen(mix: Mix, seen: SeenPrices): number {
  return Math.max(0, ...mix.pools.map(({ name }) => Math.floor(((seen[name]?.length ?? 0) - 1) / DAY_HOURS)));
}

type Laying = Readonly<{ days: number; laid: (weeks: Weeks, size: string, count: number) => number[] }>;

function overWeeks(mix: Mix, seen: SeenPrices, { days, laid }: Laying): Mix {
  const hours = Math.ceil(days * DAY_HOURS);
  return {
    ...mix,
    pools: mix.pools.map((pool) => {
      const weeks = weeksOf(seen[pool.name] ?? []);
      const [first] = weeks;
      if (!first || weeks.every((week) => week.every((price) => price === first[0]))) return pool;
      const { price: _, priceSeries: __, ...rest } = pool;
      const size = poolPlace(pool.name)?.size ?? pool.name;
      const count = Math.max(1, Math.ceil(hours / WEEK_HOURS));
      return { ...rest, priceSeries: laid(weeks, size, count).slice(0, hours) };
    }),
  };
}

function meanOf(values: readonly number[]): number {
  return values.reduce((sum, value) => sum + value, 0) / values.length;
}
