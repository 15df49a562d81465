import { DAY_S, dayNumber, formatDate, type Instant, utcDate } from "@/core/time";
import {
  accountList,
  closeDays,
  firstChangeAt,
  fullInventory,
  priceBooks,
  type SpendDay,
  savePrices,
  signal,
  spendClosed,
} from "@/store";
import { type Actor, authorise, ESTATE, type Services } from "../admin";
import { loadSnapshot } from "../inventory";
import { computeCosts } from "./compute-costs";

/** A week at a time: what is read stays small, and a stop loses little. */
const DAYS_AT_ONCE = 7;
/** How far back a first reckoning goes: two months, however old what runs is. */
const BACK_DAYS = 62;

/**
 * Reckons what everything cost on the UTC days that are over, at the prices of each day, and closes
 * them. A day closes when every account was read after its end: until then something of it may
 * still be told. Safe to repeat; ends after the days at hand when told to stop.
 */
export async function closeSpendDays(services: Services, actor: Actor, stopping?: AbortSignal): Promise<{ days: number }> {
  authorise(actor, "work", ESTATE);
  const { pool } = services;
  let days = 0;
  let pricedTo = 0;
  for (;;) {
    // The epoch is read first: what is reckoned under it is not stored when days were opened meanwhile.
    const { day: closed, epoch } = await spendClosed(pool);
    const [first, accounts] = await Promise.all([firstChangeAt(pool), accountList(pool)]);
    if (first === null || accounts.length === 0) break;
    const readTo = Math.min(...accounts.map(({ readAt }) => readAt ?? 0));
    const readDay = Math.floor(readTo / DAY_S);
    const from = closed === null ? Math.max(dayNumber(utcDate(first)), readDay - BACK_DAYS) : dayNumber(closed) + 1;
    const end = Math.min(from + DAYS_AT_ONCE, readDay);
    if (from >= end || stopping?.aborted) break;
    // All of them first: whoever looks meanwhile sees prices without a hole.
    for (let day = Math.max(from, pricedTo); day < readDay && !stopping?.aborted; day++)
      await readPricesOf(services, day * DAY_S);
    if (stopping?.aborted) break;
    pricedTo = readDay;
    const isClosed = await close(services, { from: from * DAY_S, to: end * DAY_S, epoch });
    if (isClosed) days += end - from;
  }
  if (days > 0) await signal(pool, "spend");
  return { days };
}

/** The prices of a day that is over, from one account of each provider that tells any. */
async function readPricesOf({ pool, provider }: Services, day: Instant): Promise<void> {
  const accounts = new Map((await accountList(pool)).map((account) => [account.provider, account]));
  for (const account of accounts.values()) {
    const { prices } = provider(account);
    if (prices) await savePrices(pool, account.provider, await prices.prices(day));
  }
}

type Closing = Readonly<{ from: Instant; to: Instant; epoch: string }>;

/** False, and nothing is stored, where days were opened since the epoch was read: they are reckoned again. */
async function close(services: Services, { from, to, epoch }: Closing): Promise<boolean> {
  const { pool, clock } = services;
  const [{ now }, snapshot, prices, resources] = await Promise.all([
    clock.read(),
    loadSnapshot(services),
    priceBooks(pool),
    fullInventory(pool),
  ]);
  const costs = await computeCosts(pool, {
    resources,
    capabilities: snapshot.capabilities,
    prices,
    from,
    to,
    knownTo: to + 1,
  });
  const spend = [...costs].flatMap(([resourceId, steps]) =>
    [...steps].map(([day, cost]): SpendDay => ({ resourceId, day: formatDate(day / DAY_S), cost })),
  );
  return closeDays(pool, { spend, from: formatDate(from / DAY_S), through: formatDate(to / DAY_S - 1), epoch, at: now });
}
