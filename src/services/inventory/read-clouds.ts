import { HOUR_S, type Instant } from "@/core/time";
import {
  type Account,
  accountList,
  saveCapabilities,
  saveChanges,
  saveCommitments,
  savePrices,
  saveReading,
  saveResources,
} from "@/store";
import type { Services } from "../admin";

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
        const reason = error instanceof Error ? error.message : String(error);
        unread.set(account.name, reason);
        await saveReading(services.pool, account.name, { at: now, error: reason });
      }
    }),
  );
  return unread;
}

async function readAccount({ pool, provider }: Services, account: Account, now: Instant): Promise<void> {
  const port = provider(account);
  const isFirst = account.capabilities === null || account.readAt === null;
  const isNewHour = isFirst || Math.floor(now / HOUR_S) !== Math.floor((account.readAt ?? 0) / HOUR_S);
  if (isNewHour) {
    await saveCapabilities(pool, account.name, await port.describe());
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
  await saveResources(pool, account.name, await port.listResources());
  for (let cursor = account.eventCursor; ; ) {
    const { events, isMore } = await port.eventsAfter(cursor);
    await saveChanges(pool, account.name, events);
    cursor = events.at(-1)?.n ?? cursor;
    if (!isMore || events.length === 0) break;
  }
}
