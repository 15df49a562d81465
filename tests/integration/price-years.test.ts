import { afterAll, beforeAll, expect, test } from "vitest";
import { DEMO_ACTOR, type Services, WORKER } from "@/services/admin";
import { burnPage, closeSpendDays, machineCost, priceBookView, priceLines, spendNow } from "@/services/cost";
import { mixOffers } from "@/services/mix";
import { runRound } from "@/services/rounds";
import { priceBooks, savePrices } from "@/store";
import { EVERYTHING } from "../support/burn-query";
import { startWorld, type TestWorld } from "../support/world";

/** Years of hourly prices in each zone, as a provider that tells them so would have left behind. */
let world: TestWorld;
let services: Services;
const HOURS = 24 * 365 * 3;
const HOUR = 3600;
const TO = Date.UTC(2027, 2, 11) / 1000;
const FROM = TO - HOURS * HOUR;
const [SIZE, ZONE] = ["ketch-8", "fjord-1a"];
const KEY = `norrhav | fjord-1 | compute | ${SIZE} | linux | spot |  | ${ZONE}`;

const spotPrice = (rate: string, { size, zone } = { size: SIZE, zone: ZONE }) =>
  ({ region: "fjord-1", item: "compute", size, os: "linux", purchase: "spot", class: "", zone, coresMin: 0, rate }) as const;

beforeAll(async () => {
  world = await startWorld();
  services = world.services;
  await runRound(services, DEMO_ACTOR, "act");
  await closeSpendDays(services, WORKER);
});
afterAll(() => world.close());

test("years of hourly prices change no sum that does not ask for them, and stand in none's way", async () => {
  // What runs since last autumn asks for them: what it came to so far is left out.
  const sums = async () => {
    const { soFar, ...spend } = await spendNow(services, DEMO_ACTOR);
    const { lines } = await burnPage(services, DEMO_ACTOR, EVERYTHING);
    return { spend, months: lines.map(({ perHour, month, byMonthEnd }) => ({ perHour, month, byMonthEnd })) };
  };
  const before = await sums();
  await services.pool.query(
    `insert into price (provider, region, item, size, os, purchase, class, zone, rate, cores_min, valid_from, source, person)
     select 'norrhav', 'fjord-1', 'compute', size, 'linux', 'spot', '', zone, 0.1 + ((n * 7919 + ascii(right(zone, 1))) % 1009)::numeric / 10000,
       0, to_timestamp($1::double precision + 3600 * n), 'provider', ''
     from generate_series(0, $2::integer - 1) as n, unnest($3::text[]) as size, unnest(array['fjord-1a', 'fjord-1b', 'fjord-1c']) as zone
     on conflict do nothing`,
    [FROM, HOURS, [SIZE, "sloop-2"]],
  );
  const { rows } = await services.pool.query<{ n: number }>("select count(*)::integer as n from price");
  expect(rows[0]?.n).toBeGreaterThan(150_000);
  expect(await sums()).toEqual(before);
});

test("at any instant the price is what a query of the table finds, before and after more is told", async () => {
  const query = {
    provider: "norrhav",
    region: "fjord-1",
    item: "compute",
    size: SIZE,
    os: "linux",
    purchase: "spot",
    zone: ZONE,
  } as const;
  const slow = async (t: number) =>
    (
      await services.pool.query<{ rate: string }>(
        `select trim_scale(rate)::text as rate from price
         where (provider, region, item, size, os, purchase, class, zone, source)
             = ('norrhav', 'fjord-1', 'compute', $1::text, 'linux', 'spot', '', $2::text, 'provider')
           and valid_from <= to_timestamp($3::double precision)
         order by valid_from desc
         limit 1`,
        [SIZE, ZONE, t],
      )
    ).rows[0]?.rate;
  const held = async () => {
    const { history } = await priceBooks(services.pool);
    for (let i = 0; i < 40; i++) {
      const t = FROM + Math.floor((i * 0.618_034 * HOURS * HOUR) % (HOURS * HOUR));
      expect(history.lookup(query).at(t)?.rate, `at ${t}`).toBe(await slow(t));
    }
    return history;
  };
  const was = await held();
  for (let i = 3; i < 40; i += 3) {
    const from = FROM + Math.floor((i * 0.618_034 * HOURS * HOUR) % (HOURS * HOUR)) - 60;
    await savePrices(services.pool, "norrhav", { prices: [spotPrice(`7.${i}`)], from });
  }
  const is = await held();
  // What was read before stays as it was for whoever is reckoning with it.
  expect(is).not.toBe(was);
  expect(was.lookup(query).at(FROM)?.rate).not.toMatch(/^7/);
});

test("one change of a price is read alone", async () => {
  const kept = (await priceBooks(services.pool)).tracks;
  await savePrices(services.pool, "norrhav", { prices: [spotPrice("0.31")], from: TO + HOUR });
  const { tracks } = await priceBooks(services.pool);
  const changed = [...tracks].filter(([key, track]) => kept.get(key) !== track);
  expect(changed.map(([, { of }]) => `${of.size} ${of.zone}`)).toEqual([`${SIZE} ${ZONE}`]);
});

test("the book shows what counts, its history comes page by page to the very first, and offers know four weeks", async () => {
  const { rows } = await priceBookView(services, DEMO_ACTOR);
  expect(rows.find(({ key }) => key === KEY)?.rate).toBe("0.31");
  let seen = 0;
  let before: number | null = null;
  for (let isMore = true; isMore; ) {
    const page = await priceLines(services, DEMO_ACTOR, { key: KEY, before });
    expect(page.lines.every(({ validFrom }, i) => i === 0 || validFrom < (page.lines[i - 1]?.validFrom ?? 0))).toBe(true);
    seen += page.lines.length;
    before = page.lines.at(-1)?.validFrom ?? null;
    isMore = page.isMore;
  }
  expect(before).toBe(FROM);
  expect(seen).toBeGreaterThan(HOURS * 0.99);
  await expect(priceLines(services, DEMO_ACTOR, { key: "tea", before: null })).rejects.toThrow("no such line");
  await expect(priceLines(services, DEMO_ACTOR, { key: KEY, before: Number.NaN })).rejects.toThrow("seconds since 1970");
  const offers = await mixOffers(services, DEMO_ACTOR, { selector: "team = viewer and region = fjord-1 and kind = group" });
  expect(offers?.offers.find(({ name }) => name === `${SIZE} ${ZONE}`)?.prices).toHaveLength(28 * 24);
});

test("a spot machine's cost of an hour in between is at the price of that hour", async () => {
  const { rows } = await services.pool.query<{ id: string; size: string; zone: string }>(
    "select id, size, zone from resource where purchase = 'spot' and kind = 'machine' and region = 'fjord-1' and state = 'running' and os = 'linux' limit 1",
  );
  const [spot] = rows;
  if (!spot) throw new Error("no spot machine runs");
  const compute = async () => {
    const { terms } = await machineCost(services, DEMO_ACTOR, { id: spot.id, from: "2027-03-10", to: "2027-03-10" });
    return terms
      .filter(({ item }) => item === "compute")
      .map(({ from, seconds, perHour }) => [(from % 86_400) / HOUR, seconds / HOUR, Number(perHour)]);
  };
  const [, , usual] = (await compute())[0] as [number, number, number];
  await savePrices(services.pool, "norrhav", { prices: [spotPrice("5", spot)], from: TO - 14 * HOUR });
  await savePrices(services.pool, "norrhav", { prices: [spotPrice(String(usual), spot)], from: TO - 13 * HOUR });
  expect((await compute()).filter(([, , rate]) => rate === 5)).toEqual([[10, 1, 5]]);
});
