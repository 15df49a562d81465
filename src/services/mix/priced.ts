import { type Keeping, type Mix, poolPlace } from "@/core/mix";
import type { CapabilitiesByAccount, Resource } from "@/core/plan";
import { cardReader, computePerSecond, type PriceBook, roughlyPerHour } from "@/core/pricing";

type Priced = Readonly<{ book: PriceBook; capabilities: CapabilitiesByAccount }>;

/** A mix at the prices of a book, for the machines of a group; a pool without a price there keeps its own. */
export function pricedMix(mix: Mix, group: Resource, { book, capabilities }: Priced): Mix {
  const cardOf = cardReader(book, capabilities);
  const perHour = (of: Readonly<{ size: string; zone?: string; purchase: "firm" | "spot" }>): number | null => {
    const card = cardOf({ ...group, kind: "machine", fields: { ...group.fields, ...of } });
    return card && card.unpriced.length === 0 ? roughlyPerHour(computePerSecond(card, 1 as Resource["level"])) : null;
  };
  return {
    ...mix,
    firmPrice: perHour({ size: group.fields.size ?? "", purchase: "firm" }) ?? mix.firmPrice,
    pools: mix.pools.map(({ priceSeries, ...pool }) => {
      const place = poolPlace(pool.name);
      const price = (place && perHour({ ...place, purchase: "spot" })) ?? pool.price ?? priceSeries?.at(-1) ?? 0;
      return { ...pool, price };
    }),
  };
}

type Said = Pick<Keeping, "firm" | "order" | "refillEveryMinutes" | "fallbackAfterMinutes" | "returnAfterMinutes">;

/** What a mix says of how it is kept. */
export function saidOf({ firm, order, refillEveryMinutes, fallbackAfterMinutes, returnAfterMinutes }: Mix): Said {
  return { firm, order, refillEveryMinutes, fallbackAfterMinutes, returnAfterMinutes };
}
