import { HOUR_S, type Instant, utcDate } from "@/core/time";
import type { FeedEvent } from "@/provider";
import {
  type Account,
  accountList,
  closedDay,
  inTransaction,
  reopenDays,
  saveCapabilities,
  saveChanges,
  saveCommitments,
  savePrices,
  saveReading,
  saveResources,
} from "@/store";
import { ProviderError, type Services } from "../admin";

/**
 * Reads every account: capabilities, resources, the event feed and, once an hour, prices. An account
 * that cannot be read in full leaves what was stored as it is and comes back in the map, with the reason.
 */
export async function readClouds(services: Services, now: Instant): Promise<Map<string, string>> {
  const unread = new Map<string, string>();
  const accounts = await accountList(services.pool);
  await Promise.all(
    accounts.map(async (account) => {
      try {
        await readAccount(services, account, now);
        await saveReading(services.pool, account.name, { at: now, error: null });
      } catch (error) {
        const reason = reasonOf(error, account);
        unread.set(account.name, reason);
        await saveReading(services.pool, account.name, { at: now, error: reason });
      }
    }),
  );
  return unread;
}

/** A provider that cannot be read says why; anything else is a fault of ours, and is logged with its place every time. */
function reasonOf(error: unknown, { name }: Account): string {
  if (error instanceof ProviderError) return error.message;
  console.error(`reading ${name} failed by a fault of ours:`, error);
  return `a fault of Umbrik's own: ${error instanceof Error ? error.message : String(error)}`;
}

async function readAccount(services: Services, account: Account, now: Instant): Promise<void> {
  const { pool, provider } = services;
  const port = provider(account);
  const isFirst = account.capabilities === null || account.readAt === null;
  const isNewHour = isFirst || Math.floor(now / HOUR_S) !== Math.floor((account.readAt ?? 0) / HOUR_S);
  let capabilities = account.capabilities;
  if (isNewHour) {
    capabilities = await port.describe();
    await saveCapabilities(pool, account.name, capabilities);
    await savePrices(pool, account.provider, await port.prices());
    await saveCommitments(
      pool,
      (await port.commitments()).map(({ from, to, ...line }) => ({
        ...line,
        provider: account.provider,
        account: account.name,
        fromDay: from,
        toDay: to,
        source: "provider",
      })),
      "",
    );
  }
  const resources = await port.listResources();
  await inTransaction(pool, (tx) => saveResources(tx, account.name, { resources, at: now }));
  const billedWhenHalted = capabilities?.billedWhenHalted ?? false;
  for (let cursor = account.eventCursor; ; ) {
    const { events, isMore } = await port.eventsAfter(cursor);
    await takeEvents(services, { account, events, billedWhenHalted, now });
    cursor = events.at(-1)?.n ?? cursor;
    if (!isMore || events.length === 0) break;
  }
}

type Taking = Readonly<{ account: Account; events: readonly FeedEvent[]; billedWhenHalted: boolean; now: Instant }>;

/** Stores a page of the feed; what it tells late of a day that is closed opens that day again. */
async function takeEvents({ pool }: Services, { account, events, billedWhenHalted, now }: Taking): Promise<void> {
  await inTransaction(pool, async (tx) => {
    const earliest = await saveChanges(tx, account.name, { changes: events, billedWhenHalted });
    if (earliest === null) return;
    const day = utcDate(earliest);
    const closed = await closedDay(tx);
    if (closed !== null && day <= closed)
      await reopenDays(tx, day, { cause: `told late by ${account.name}`, person: "", at: now });
  });
}
