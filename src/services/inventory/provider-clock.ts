import type { ListedResource } from "@/core/plan";
import { DAY_S, type Instant } from "@/core/time";
import type { Clock, Listed } from "@/provider";
import type { Account } from "@/store";
import type { FeedPage } from "./read-feed";

/** An answer tells whole seconds, and takes a while: less than that is no difference. */
const NOISE_S = 2;

/** How far a provider's clock goes ahead of ours (seconds; below zero: behind), now and the most that was ever measured. */
export type ClockAhead = Readonly<{ now: number; most: number }>;

/**
 * The difference of a provider's clock from ours, by the time that its answer says (RFC 9110, Date) and ours before and after it
 * was asked. What differs by no more than a reading can tell stays as it was measured before, so that times stand still; a
 * provider that tells no time, or another day's, is taken at its word.
 */
export function measuredAhead(told: Instant | null, { from, to, before }: Asked): ClockAhead {
  const raw = told === null ? 0 : told > to ? told - to : told < from ? told - from : 0;
  const ahead = Math.abs(raw) >= DAY_S ? 0 : raw;
  const now = Math.abs(ahead) <= NOISE_S ? 0 : Math.abs(ahead - before.now) <= NOISE_S ? before.now : ahead;
  return { now, most: Math.max(before.most, Math.abs(now)) };
}

/** Our clock before and after a provider was asked, and what had been measured before. */
type Asked = Readonly<{ from: Instant; to: Instant; before: ClockAhead }>;

export type Told = Readonly<{ listed: Listed; events: readonly FeedPage[] }>;
export type ToldByOurs = Told & Readonly<{ clockAhead: ClockAhead; heldAt: Instant }>;

/**
 * What an account told, with the times of its feed by our clock. What is still to come by it counts as now; what happened while it
 * was read is no clock gone wrong. The times of its listing are held to what is known of each (`listedByOurs`).
 */
export async function eventsByOurs(told: Told, { at, clock, account }: Reading): Promise<ToldByOurs> {
  const { listed, events } = told;
  const isAhead = (t: Instant | null) => t !== null && t > at;
  const isOff = listed.clock !== null && Math.abs(listed.clock - at) > NOISE_S;
  const isToCome =
    listed.resources.some(({ since, runSince }) => isAhead(since) || isAhead(runSince)) ||
    events.some((page) => page.events.some((event) => isAhead(event.at)));
  const to = isOff || isToCome ? Math.max(at, (await clock.read()).now) : at;
  const clockAhead = measuredAhead(listed.clock, { from: at, to, before: account.clockAhead });
  // What was told before we looked for the first time, nobody knows by which clock.
  const shift = account.readAt === null ? 0 : clockAhead.now;
  const byOurs = (t: Instant) => Math.min(t - shift, to);
  return {
    listed,
    events:
      shift === 0 && !isToCome
        ? events
        : events.map((page) => ({ ...page, events: page.events.map((event) => ({ ...event, at: byOurs(event.at) })) })),
    clockAhead,
    heldAt: to,
  };
}

type Reading = Readonly<{ at: Instant; clock: Clock; account: Account }>;

/**
 * Listed resources with their times by our clock: what is as it was known stays since when it was known to be, as far as clocks
 * were ever apart, and what is new is moved by what they are apart now.
 */
export function listedByOurs(
  resources: readonly ListedResource[],
  { known, clockAhead, heldAt, isFirst }: ByOurs,
): readonly ListedResource[] {
  const { now, most } = clockAhead;
  if (most === 0 && !resources.some(({ since, runSince }) => since > heldAt || (runSince ?? 0) > heldAt)) return resources;
  const byId = new Map(known.map((one) => [one.id, one]));
  const moved = (t: Instant) => Math.min(isFirst ? t : t - now, heldAt);
  const near = (told: Instant, before: Instant) => (Math.abs(told - before) <= most + NOISE_S ? before : moved(told));
  return resources.map((one) => {
    const before = most === 0 ? undefined : byId.get(one.id);
    const isAsKnown = before !== undefined && before.state === one.state && before.level === one.level;
    return {
      ...one,
      since: isAsKnown ? near(one.since, before.since) : moved(one.since),
      runSince:
        one.runSince === null ? null : before?.runSince == null ? moved(one.runSince) : near(one.runSince, before.runSince),
    };
  });
}

type ByOurs = Readonly<{
  known: readonly Pick<ListedResource, "id" | "state" | "level" | "since" | "runSince">[];
  clockAhead: ClockAhead;
  /** Nothing is later than this. */
  heldAt: Instant;
  isFirst: boolean;
}>;
