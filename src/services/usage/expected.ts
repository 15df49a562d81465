import type { Resource } from "@/core/plan";
import { type Amount, type CardsOver, microsOf } from "@/core/pricing";
import { costBySteps, totalOf } from "@/core/spend";
import { DAY_S, dayNumber, formatDate } from "@/core/time";
import { livesOf, type Pool, type Prices } from "@/store";
import { cardsOf } from "../cost";
import type { Snapshot } from "../inventory";

/** What a person's prices and discounts make a resource's day dearer than the provider's own prices, in millionths. */
export type Expected = Readonly<{ hand: bigint; discount: bigint }>;
const NOTHING: Expected = { hand: 0n, discount: 0n };

type Input = Readonly<{
  all: readonly Resource[];
  snapshot: Snapshot;
  prices: Prices;
  span: Readonly<{ from: string; to: string }>;
}>;

/**
 * Reads the differences from a meter that are to be expected: a meter bills what the provider asks.
 * Only resources whose prices differ somewhere in the span are reckoned.
 */
export async function expectedDifferences(
  pool: Pool,
  { all, snapshot, prices, span }: Input,
): Promise<(resourceId: string, day: string) => Expected> {
  const [from, to] = [dayNumber(span.from) * DAY_S, (dayNumber(span.to) + 1) * DAY_S];
  const ours = cardsOf(prices, snapshot.capabilities);
  const discounted = cardsOf({ history: prices.discounted }, snapshot.capabilities);
  const listed = cardsOf({ history: prices.listed }, snapshot.capabilities);
  const differing = all.filter((resource) => {
    const texts = [ours, discounted, listed].map((cards) => ratesText(cards, resource, { from, to }));
    return texts[0] !== texts[2] || texts[1] !== texts[2];
  });
  if (differing.length === 0) return () => NOTHING;
  const lives = await livesOf(
    pool,
    differing.map(({ id }) => id),
    { from, to: to + 1 },
  );
  const known = new Map<string, Expected>();
  for (const resource of differing) {
    const life = lives.get(resource.id) ?? [];
    const dayCosts = (cards: CardsOver) =>
      costBySteps({ life, cards: cards(resource, life[0]?.from ?? from, to) ?? [], from, to, knownTo: to + 1 });
    const [own, less, asked] = [dayCosts(ours), dayCosts(discounted), dayCosts(listed)];
    for (const [at, cost] of own) {
      const micros = (one: typeof cost | undefined) => (one ? microsOf(totalOf(one) as Amount) : 0n);
      const [mine, withDiscount, provider] = [micros(cost), micros(less.get(at)), micros(asked.get(at))];
      known.set(`${resource.id} ${formatDate(at / DAY_S)}`, { hand: mine - withDiscount, discount: withDiscount - provider });
    }
  }
  return (resourceId, day) => known.get(`${resourceId} ${day}`) ?? NOTHING;
}

function ratesText(cards: CardsOver, resource: Resource, { from, to }: { from: number; to: number }): string {
  const within = (cards(resource, from, to) ?? []).map((dated) => ({ ...dated, from: Math.max(dated.from, from) }));
  return JSON.stringify(within, (_, value) => (typeof value === "bigint" ? String(value) : value));
}
