import type { Instant } from "@/core/time";
import { DAY_S } from "@/core/time";
import type { EventPage, Feed } from "@/provider";
import type { Account } from "@/store";

/** The most pages of a feed that one reading takes, besides two to see where it stands; a feed without end goes on at the next. */
const PAGES_MAX = 48;

/**
 * A page of a feed as it is stored: its events are numbered on from all that the feed told before it began again (`base`), and
 * `mark` says which event was its last; null where it cannot be said.
 */
export type FeedPage = EventPage & Readonly<{ base: number; mark: string | null }>;

/** Reads on in an account's feed. It asks from the last event it has read, and so sees whether that is still there. */
export async function readFeed(feed: Feed, account: Account, at: Instant): Promise<FeedPage[]> {
  const pages: FeedPage[] = [];
  const begun = await beginOf(feed, account);
  for (let { base, own, page } = begun; ; ) {
    pages.push(stored(withoutTomorrow(page, at), { base, own }));
    if (!page.isMore || page.last <= own || pages.length === PAGES_MAX) break;
    own = page.last;
    page = await feed.eventsAfter(own);
  }
  return pages;
}

/** Where to go on: after the last event that was read (`own`, by the provider's number), or anew where the feed has begun again. */
async function beginOf(
  feed: Feed,
  { eventCursor, eventBase, eventMark }: Account,
): Promise<{ base: number; own: number; page: EventPage }> {
  const own = eventCursor - eventBase;
  if (own === 0) return { base: eventBase, own, page: await feed.eventsAfter(0) };
  const page = await feed.eventsAfter(own - 1);
  const last = page.events.find(({ n }) => n === own);
  const isSame = last ? eventMark === null || markOf(last) === eventMark : await isFarther(feed, { own, page });
  if (isSame) return { base: eventBase, own, page };
  const anew = await feed.eventsAfter(0);
  return { base: eventCursor, own: 0, page: { ...anew, setAside: [BEGAN_AGAIN, ...anew.setAside] } };
}

/** True where a feed that has the last event no more has none before it either: it forgot what is old, and goes on. */
async function isFarther(feed: Feed, { own, page }: { own: number; page: EventPage }): Promise<boolean> {
  // An odd line may be the one that was read last.
  if (page.setAside.length > 0 && page.last === own) return true;
  const first = await feed.eventsAfter(0);
  const isEmpty = first.events.length === 0 && first.setAside.length === 0;
  return isEmpty || (first.events[0] ? first.events[0].n > own : first.last > own);
}

const BEGAN_AGAIN = { id: null, name: "the feed", why: "it begins again at 1: it is read anew, and what it told before stands" };

function markOf({ n, resourceId, type, at }: EventPage["events"][number]): string {
  return `${n} ${resourceId} ${type} ${at}`;
}

/** A page after an event, with the numbers that are stored. */
function stored(page: EventPage, { base, own }: { base: number; own: number }): FeedPage {
  const events = page.events.filter(({ n }) => n > own);
  const last = events.find(({ n }) => n === page.last);
  return {
    ...page,
    events: events.map((event) => ({ ...event, n: base + event.n })),
    last: base + page.last,
    base,
    mark: last ? markOf(last) : null,
  };
}

/** An event from tomorrow is a clock gone wrong; it would be believed of today. */
function withoutTomorrow(page: EventPage, at: Instant): EventPage {
  const isTomorrow = (event: EventPage["events"][number]) => event.at > at + DAY_S;
  if (!page.events.some(isTomorrow)) return page;
  const odd = page.events
    .filter(isTomorrow)
    .map(({ n, resourceId }) => ({ id: resourceId, name: `event ${n}`, why: "it lies ahead of now" }));
  return { ...page, events: page.events.filter((event) => !isTomorrow(event)), setAside: [...page.setAside, ...odd] };
}
