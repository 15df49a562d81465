import { type Price, type PriceBook, priceBook, priceSchema } from "@/core/pricing";
import type { Instant } from "@/core/time";
import type { Db } from "./pool";

/** Replaces a provider's price list. Several accounts of one provider see the same list. */
export async function savePrices(
  db: Db,
  provider: string,
  { prices, at }: { prices: readonly Price[]; at: Instant },
): Promise<void> {
  await db.query(
    `insert into price (provider, region, item, size, os, purchase, class, rate, cores_min, read_at)
     select $1::text, region, item, size, os, purchase, class, rate::numeric, cores_min, to_timestamp($10::double precision)
     from unnest($2::text[], $3::text[], $4::text[], $5::text[], $6::text[], $7::text[], $8::text[], $9::integer[])
       as line (region, item, size, os, purchase, class, rate, cores_min)
     on conflict (provider, region, item, size, os, purchase, class)
       do update set rate = excluded.rate, cores_min = excluded.cores_min, read_at = excluded.read_at`,
    [
      provider,
      prices.map(({ region }) => region),
      prices.map(({ item }) => item),
      prices.map(({ size }) => size),
      prices.map(({ os }) => os),
      prices.map(({ purchase }) => purchase),
      prices.map((price) => price.class),
      prices.map(({ rate }) => rate),
      prices.map(({ coresMin }) => coresMin),
      at,
    ],
  );
}

/** The prices of every provider, ready for asking. */
export async function currentPrices(db: Db): Promise<PriceBook> {
  const { rows } = await db.query(
    `select provider, region, item, size, os, purchase, class, rate, cores_min as "coresMin"
     from price
     limit 100000`,
  );
  const lists = new Map<string, Price[]>();
  for (const { provider, ...line } of rows as ({ provider: string } & Record<string, unknown>)[]) {
    const list = lists.get(provider) ?? [];
    list.push(priceSchema.parse(line));
    lists.set(provider, list);
  }
  return priceBook(lists);
}
