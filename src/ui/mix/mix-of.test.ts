import { expect, test } from "vitest";
import { asSaid, mixSchema } from "@/core/mix";
import type { MixOffer, MixOffers } from "@/services/mix";
import { asOfNow, firstMix, poolOf, shareUnder, withCap } from "./mix-of";

const offer = (given: Partial<MixOffer> = {}): MixOffer => ({
  name: "ketch-8 a",
  size: "ketch-8",
  zone: "a",
  units: 1,
  price: 0.04,
  prices: [...Array.from({ length: 300 }, () => 0.03), ...Array.from({ length: 100 }, () => 0.04)],
  whyNot: null,
  evictions: 2,
  machineHours: 900,
  rate: { shape: 3, rate: 1000, mean: 0.003, p5: 0.001, p95: 0.006 },
  mostAtOnce: 0,
  waves: { count: 0, rate: { shape: 1, rate: 100 }, share: { taken: 2, spared: 3 } },
  spells: {
    count: 0,
    available: { shape: 1, rate: 30 },
    dry: { shape: 2, rate: 2 },
    factor: { shape: 3, rate: 3 },
    dryShare: 0,
  },
  byHour: [],
  ...given,
});
const offers = (list: readonly MixOffer[]): MixOffers => ({
  currency: "EUR",
  size: "ketch-8",
  os: "linux",
  region: "fjord-1",
  units: 5,
  ownUnits: 7,
  ownPrice: 1,
  firmPrice: 0.2,
  diskPrice: 0.001,
  provisionMinutes: 2,
  noticeS: 120,
  offers: list,
  groups: 1,
  others: 0,
});

test("the first mix is half firm, the rest from its own size, and is one that can be simulated", () => {
  const mix = firstMix(offers([offer(), offer({ name: "brig-16 a", size: "brig-16" }), offer({ name: "x", whyNot: "no" })]));
  expect({ firm: mix.firm, pools: mix.pools.map(({ name }) => name) }).toEqual({ firm: 4, pools: ["ketch-8 a"] });
  expect(mixSchema.safeParse(mix).success).toBe(true);
  // Where nothing can be spot, all is firm.
  expect(firstMix(offers([offer({ whyNot: "no" })]))).toMatchObject({ firm: 7, pools: [] });
});

test("under a cap the price moves as it did in the last week, and without one it is today's", () => {
  const capped = withCap(poolOf(offer()), offer(), 0.035);
  expect(capped.priceSeries).toHaveLength(168);
  expect({ price: capped.price, cap: capped.cap }).toEqual({ price: undefined, cap: 0.035 });
  expect(withCap(capped, offer(), null)).toEqual(poolOf(offer()));
  expect(shareUnder(offer(), 0.035)).toBe(0.75);
});

test("a mix that was made before is reckoned with today's prices and evidence, but for what a person set", () => {
  const before = firstMix(offers([offer(), offer({ name: "ketch-8 b", zone: "b" })]));
  const [first, second] = before.pools;
  const mix = { ...before, pools: [first, { ...second, hazard: 0.5 }] } as typeof before;
  const dearer = { price: 0.06, rate: { shape: 9, rate: 2000, mean: 0, p5: 0, p95: 0 } };
  const now = asOfNow(mix, { ...offers([offer(dearer), offer({ ...dearer, name: "ketch-8 b", zone: "b" })]), firmPrice: 0.3 });
  expect(now.firmPrice).toBe(0.3);
  expect(now.pools.map(({ price, hazard }) => ({ price, hazard }))).toEqual([
    { price: 0.06, hazard: { shape: 9, rate: 2000 } },
    { price: 0.06, hazard: 0.5 },
  ]);
});

test("waves and spells are reckoned with as they are known until a person says otherwise, and a taken point says nothing for them", () => {
  const seen = offer();
  const drafted = { ...poolOf(seen), dryHours: 9 };
  const [laid] = asOfNow({ ...firstMix(offers([seen])), pools: [drafted] }, offers([seen])).pools;
  expect(laid).toMatchObject({ reclaimRate: seen.waves.rate, availableHours: seen.spells.available, dryHours: 9 });
  expect(asSaid(laid as typeof drafted)).toEqual(drafted);
  // Said to be never: not what was seen.
  const never = asOfNow({ ...firstMix(offers([seen])), pools: [{ ...drafted, reclaimRate: 0 }] }, offers([seen])).pools;
  expect(never[0]?.reclaimRate).toBe(0);
});
