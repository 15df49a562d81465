import type { Capabilities } from "@/core/plan";
import { DAY_S, HOUR_S, type Instant } from "@/core/time";
import type { EventPage, Listed, ProviderCommitment, ProviderPort } from "@/provider";
import type { Account } from "@/store";

/** The most pages of a feed that one reading takes; a feed without end goes on at the next. */
const PAGES_MAX = 50;

/** Everything that one reading of an account brought, before any of it is stored. */
export type Fetched = Readonly<{
  /** When the reading began. */
  at: Instant;
  /** Once an hour; null in between. */
  hourly: Readonly<{
    capabilities: Capabilities;
    prices: Awaited<ReturnType<ProviderPort["prices"]>>;
    commitments: readonly ProviderCommitment[];
  }> | null;
  listed: Listed;
  events: readonly EventPage[];
}>;

/** Asks an account for all that a round needs. Stores nothing. Throws a ProviderError where it cannot be read in full. */
export async function fetchAccount(port: ProviderPort, account: Account, at: Instant): Promise<Fetched> {
  const isFirst = account.capabilities === null || account.readAt === null;
  const isNewHour = isFirst || Math.floor(at / HOUR_S) !== Math.floor((account.readAt ?? 0) / HOUR_S);
  const hourly = isNewHour
    ? { capabilities: await port.describe(), prices: await port.prices(), commitments: await port.commitments() }
    : null;
  const listed = await port.listResources();
  const events: EventPage[] = [];
  for (let cursor = account.eventCursor; events.length < PAGES_MAX; ) {
    const page = await port.eventsAfter(cursor);
    // An event from tomorrow is a clock gone wrong; it would be believed of today.
    const isOdd = page.events.some((event) => event.at > at + DAY_S);
    events.push(isOdd ? withoutTomorrow(page, at) : page);
    if (!page.isMore || page.last <= cursor) break;
    cursor = page.last;
  }
  return { at, hourly, listed, events };
}

function withoutTomorrow(page: EventPage, at: Instant): EventPage {
  const isTomorrow = (event: EventPage["events"][number]) => event.at > at + DAY_S;
  const odd = page.events
    .filter(isTomorrow)
    .map(({ n, resourceId }) => ({ id: resourceId, name: `event ${n}`, why: "it lies ahead of now" }));
  return { ...page, events: page.events.filter((event) => !isTomorrow(event)), setAside: [...page.setAside, ...odd] };
}
