import type { SetAside } from "@/core/plan";
import { type ClosedReason, doubtOf, isConfirmed, isSame, lackOf, ROUND_EVERY_S, type StandingDoubt } from "@/core/rounds";
import { type Instant, utcDate } from "@/core/time";
import {
  type Account,
  closedDay,
  endDoubt,
  isSessionEvent,
  type Lead,
  reopenDays,
  resourceList,
  saveCapabilities,
  saveChanges,
  saveCommitments,
  saveCursor,
  saveDoubt,
  savePrices,
  saveReading,
  saveResources,
  saveSessionEvents,
  whileLeading,
} from "@/store";
import type { Services } from "../admin";
import type { Fetched } from "./fetch-account";
import { listedByOurs } from "./provider-clock";
import type { FeedPage } from "./read-feed";

export type Storing = Readonly<{ account: Account; fetched: Fetched; doubt: StandingDoubt | undefined; lead: Lead | null }>;

/** Stores what a reading brought, unless another leads by now. Returns why its listing is not believed, or null where it is. */
export async function storeAccount(services: Services, { account, fetched, doubt, lead }: Storing): Promise<ClosedReason | null> {
  const { pool } = services;
  const { at, listed, events, partErrors, clockAhead, heldAt } = fetched;
  await storeHourly(services, account, fetched);
  const setAside = [...listed.setAside, ...events.flatMap((page) => page.setAside), ...clockNote(clockAhead.now)];
  const before = (await resourceList(pool)).filter(({ fields }) => fields.account === account.name);
  const kept = keptOf(listed.setAside, before);
  const odd = new Set(kept);
  const found = doubtOf(
    // Members of groups come and go: that some are missing says nothing of the listing.
    before.filter(({ id, kind }) => !odd.has(id) && kind !== "member"),
    listed.resources,
  );
  const isBelieved = !found || (doubt !== undefined && isConfirmed(doubt, found, { now: at, roundEveryS: ROUND_EVERY_S }));
  await whileLeading(pool, lead, async (tx) => {
    if (isBelieved) {
      const resources = listedByOurs(listed.resources, { known: before, clockAhead, heldAt, isFirst: account.readAt === null });
      await saveResources(tx, account.name, { resources, at, kept, known: before });
      if (doubt) await endDoubt(tx, account.name);
    } else if (!doubt || !isSame(doubt, found)) {
      await saveDoubt(tx, account.name, { ...found, since: at });
    }
    await saveReading(tx, account.name, { at, setAside, partErrors, clockAhead });
  });
  const billedWhenHalted = (fetched.capabilities ?? account.capabilities)?.billedWhenHalted ?? false;
  for (const page of events) await storeEvents(services, { account, at, page, billedWhenHalted, lead });
  if (!isBelieved) return { code: "doubted", lack: lackOf(found), needsPerson: found.needsPerson };
  // Without it nobody knows what a person has started since the last look: nothing is done there.
  return partErrors.feed === undefined ? null : { code: "feed unread", error: partErrors.feed };
}

/** That a clock goes wrong is said where all that is odd of an account is; it is nobody's machine. */
function clockNote(aheadS: number): SetAside[] {
  if (aheadS === 0) return [];
  const why = `goes ${Math.abs(aheadS)} s ${aheadS > 0 ? "ahead of" : "behind"} ours: its times are told by ours`;
  return [{ id: null, name: "its clock", why }];
}

/** What was there and is listed oddly stays as it was; where it is unknown whose something is, so does all that is missing. */
function keptOf(setAside: readonly SetAside[], before: readonly { id: string }[]): string[] {
  if (setAside.some(({ id }) => id === null)) return before.map(({ id }) => id);
  return setAside.flatMap(({ id }) => (id === null ? [] : [id]));
}

async function storeHourly({ pool }: Services, account: Account, { capabilities, prices, commitments }: Fetched): Promise<void> {
  if (capabilities) await saveCapabilities(pool, account.name, capabilities);
  if (prices) await savePrices(pool, account.provider, prices);
  if (!commitments) return;
  await saveCommitments(
    pool,
    commitments.map(({ from, to, ...line }) => ({
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

type PageOfAccount = Readonly<{ account: Account; at: Instant; page: FeedPage; billedWhenHalted: boolean; lead: Lead | null }>;

/** Stores a page of the feed; what it tells late of a day that is closed opens that day again. */
async function storeEvents({ pool }: Services, { account, at, page, billedWhenHalted, lead }: PageOfAccount): Promise<void> {
  await whileLeading(pool, lead, async (tx) => {
    const changes = page.events.filter(({ type }) => !isSessionEvent(type));
    await saveSessionEvents(
      tx,
      account.name,
      page.events.flatMap(({ type, ...event }) => (isSessionEvent(type) ? [{ ...event, type }] : [])),
    );
    const earliest = await saveChanges(tx, account.name, { changes, billedWhenHalted, isTwice: page.base > 0 });
    const closed = earliest === null ? null : await closedDay(tx);
    if (earliest !== null && closed !== null && utcDate(earliest) <= closed)
      await reopenDays(tx, utcDate(earliest), { cause: `told late by ${account.name}`, person: "", at });
    await saveCursor(tx, account.name, page);
  });
}
