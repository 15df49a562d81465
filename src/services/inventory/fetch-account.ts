import type { Capabilities } from "@/core/plan";
import { HOUR_S, type Instant } from "@/core/time";
import {
  type Clock,
  type OptionalPart,
  type PriceList,
  type ProviderCommitment,
  ProviderError,
  type ProviderParts,
} from "@/provider";
import type { Account } from "@/store";
import { eventsByOurs, type ToldByOurs } from "./provider-clock";
import { readFeed } from "./read-feed";

/** Everything that one reading of an account brought, before any of it is stored. */
export type Fetched = ToldByOurs &
  Readonly<{
    /** When the reading began. */
    at: Instant;
    /** What the provider says of itself, once an hour; null in between. */
    capabilities: Capabilities | null;
    /** Once an hour, of a provider that has them; null in between. */
    prices: Awaited<ReturnType<PriceList["prices"]>> | null;
    commitments: readonly ProviderCommitment[] | null;
    /** Why a part could not be read. */
    partErrors: Readonly<Partial<Record<OptionalPart, string>>>;
  }>;

/**
 * Asks an account for all that a round needs. Stores nothing. Throws a ProviderError where its listing cannot be read in full;
 * another part that fails is told of, and the rest stands.
 */
export async function fetchAccount(parts: ProviderParts, account: Account, { at, clock }: Reading): Promise<Fetched> {
  const isFirst = account.capabilities === null || account.readAt === null;
  const isNewHour = isFirst || Math.floor(at / HOUR_S) !== Math.floor((account.readAt ?? 0) / HOUR_S);
  const partErrors: Partial<Record<OptionalPart, string>> = {};
  /** Reads a part where there is one, and it is due or failed the last time. */
  const readPart = async <P, T>(name: OptionalPart, part: P | null, read: (part: P) => Promise<T>): Promise<T | null> => {
    if (part === null) return null;
    try {
      return await read(part);
    } catch (error) {
      if (!(error instanceof ProviderError)) throw error;
      partErrors[name] = error.message;
      return null;
    }
  };
  const isDue = (name: OptionalPart) => isNewHour || account.partErrors[name] !== undefined;
  const capabilities = isNewHour ? await parts.listing.describe() : null;
  const prices = isDue("prices") ? await readPart("prices", parts.prices, (part) => part.prices()) : null;
  const commitments = isDue("commitments")
    ? await readPart("commitments", parts.commitments, (part) => part.commitments())
    : null;
  const listed = await parts.listing.listResources();
  const events = (await readPart("feed", parts.feed, (feed) => readFeed(feed, account, at))) ?? [];
  const told = await eventsByOurs({ listed, events }, { at, clock, account });
  return { at, capabilities, prices, commitments, ...told, partErrors };
}

/** When a reading began, and our clock. */
type Reading = Readonly<{ at: Instant; clock: Clock }>;
