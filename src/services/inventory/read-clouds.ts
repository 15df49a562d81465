import { type ClosedReason, ROUND_EVERY_S } from "@/core/rounds";
import type { Instant } from "@/core/time";
import { log } from "@/log";
import { type Account, accountList, cache, doubtMap, type Lead, LostLeadError, type Pool, saveReading } from "@/store";
import { ProviderError, type Services } from "../admin";
import { type Fetched, fetchAccount } from "./fetch-account";
import { storeAccount } from "./store-account";

/** How long a round waits for an account. One that takes longer is read on beside the rounds and used by a later one. */
const PATIENCE_MS = 8_000;
/** How long one account may be read at all. */
const READING_MS = 100_000;
/** What was read longer ago than this is not acted on. */
const FRESH_S = 2 * ROUND_EVERY_S;

/** Whose word readings and stores go by; a round's own lead, or none where nothing is acted on. `only`: these accounts alone. */
export type ReadOptions = Readonly<{ lead: Lead | null; only?: ReadonlySet<string> }>;

/**
 * Reads every account apart from the others. One that cannot be read in full, or whose listing is not
 * believed, leaves what was stored as it is and comes back in the map, with the reason.
 */
export async function readClouds(
  services: Services,
  now: Instant,
  { lead, only }: ReadOptions = { lead: null },
): Promise<Map<string, ClosedReason>> {
  const closed = new Map<string, ClosedReason>();
  const [accounts, doubts] = await Promise.all([accountList(services.pool), doubtMap(services.pool)]);
  const inTurn = oneAtATime();
  await Promise.all(
    accounts
      .filter(({ name }) => !only || only.has(name))
      .map(async (account) => {
        try {
          const fetched = await fetchedOf(services, account, now);
          const reason = await inTurn(() => storeAccount(services, { account, fetched, doubt: doubts.get(account.name), lead }));
          if (reason !== null) closed.set(account.name, reason);
        } catch (error) {
          if (error instanceof LostLeadError) throw error;
          const words = errorOf(error, account);
          closed.set(account.name, { code: "unread", error: words });
          await saveReading(services.pool, account.name, { error: words });
        }
      }),
  );
  return closed;
}

/** Does one piece of work after the other: what each needs of memory is gone before the next begins. */
function oneAtATime(): <T>(work: () => Promise<T>) => Promise<T> {
  let before: Promise<unknown> = Promise.resolve();
  return (work) => {
    const own = before.then(work);
    before = own.catch(() => {});
    return own;
  };
}

type Reading = { begun: Instant; end: Promise<Fetched> };

/** A reading of the account, begun now or still under way. Throws a ProviderError where the round cannot wait for it. */
async function fetchedOf(services: Services, account: Account, now: Instant): Promise<Fetched> {
  const home = cache<Pool, Map<string, Reading>>("readings");
  const readings = home.get(services.pool) ?? new Map<string, Reading>();
  home.set(services.pool, readings);
  const known = readings.get(account.name);
  const reading = known ?? begin(services, account, now);
  if (!known) readings.set(account.name, reading);
  const fetched = await withPatience(reading.end).catch((error: unknown) => {
    readings.delete(account.name);
    throw error;
  });
  if (fetched === null)
    throw new ProviderError(`it has not answered in full within ${PATIENCE_MS / 1000} s and is still being read`);
  readings.delete(account.name);
  if (known && now - known.begun > FRESH_S) throw new ProviderError("what it answered is too old by now; it is read again");
  return fetched;
}

function begin({ provider, clock }: Services, account: Account, now: Instant): Reading {
  const end = fetchAccount(provider(account, AbortSignal.timeout(READING_MS)), account, { at: now, clock });
  // Whoever waits for it hears of a failure; when nobody does any more, it is no fault of the process.
  end.catch(() => {});
  return { begun: now, end };
}

/** What comes within a round's patience; null where it does not. */
async function withPatience<T>(work: Promise<T>): Promise<T | null> {
  let timer: NodeJS.Timeout | undefined;
  const impatience = new Promise<null>((resolve) => {
    timer = setTimeout(() => resolve(null), PATIENCE_MS);
  });
  try {
    return await Promise.race([work, impatience]);
  } finally {
    clearTimeout(timer);
  }
}

/** A provider that cannot be read says why; anything else is a fault of ours, and is logged with its place every time. */
function errorOf(error: unknown, { name }: Account): string {
  if (error instanceof ProviderError) return error.message;
  log.error({ err: error, account: name }, "reading failed by a fault of ours");
  return `a fault of Umbrik's own: ${error instanceof Error ? error.message : String(error)}`;
}
