import { ILL_S, type UnhealthyCare } from "@/core/mix";
import type { SetAside } from "@/core/plan";
import { type Lack, lackOf, type StandingDoubt } from "@/core/rounds";
import { type Instant, MINUTE_S } from "@/core/time";
import {
  accountList,
  confirmDoubt,
  doubtMap,
  failingRounds,
  illMembers,
  lastFullRound,
  MISSING_AFTER_S,
  missingStarts,
  type Pause,
  pauseList,
  signal,
} from "@/store";
import { type Actor, authorise, ESTATE, FAILED_LEAST, RefusedError, type Services } from "../admin";

/** Something that waits for a person, with what there is to say of it. */
export type Attention =
  | Readonly<{ kind: "failing"; since: Instant; error: string }>
  | Readonly<{ kind: "paused"; pause: Pause }>
  | Readonly<{ kind: "held"; round: number; at: Instant; stops: number }>
  | Readonly<{ kind: "doubted"; account: string; doubt: Pick<StandingDoubt, "since" | "person" | "needsPerson">; lack: Lack }>
  | Readonly<{
      kind: "unread";
      account: string /** The part that cannot be; null: all of it. */;
      part: string | null;
      error: string;
      readAt: Instant | null;
    }>
  | Readonly<{ kind: "set aside"; account: string; odd: readonly SetAside[] }>
  | Readonly<{ kind: "missing"; fleet: string; count: number; names: readonly string[]; why: string }>
  | Readonly<{ kind: "unhealthy"; fleet: string; count: number; names: readonly string[]; care: UnhealthyCare }>;

const NAMES = 5;
/** Whoever was to be replaced for being unhealthy was so by then. */
const REPLACED_BY_S = ILL_S + 5 * MINUTE_S;

/** What needs a person, the gravest first; empty when nothing does. */
export async function attention(services: Services, actor: Actor): Promise<Attention[]> {
  authorise(actor, "look", ESTATE);
  const { pool } = services;
  const [{ now }, pauses, last, doubts, accounts, failing] = await Promise.all([
    services.clock.read(),
    pauseList(pool),
    lastFullRound(pool),
    doubtMap(pool),
    accountList(pool),
    failingRounds(pool),
  ]);
  const missing = await missingStarts(pool, now - MISSING_AFTER_S);
  const ill = await illMembers(pool, now - REPLACED_BY_S);
  return [
    ...(failing && failing.count >= FAILED_LEAST
      ? [{ kind: "failing" as const, since: failing.since, error: failing.error }]
      : []),
    ...pauses.map((pause) => ({ kind: "paused" as const, pause })),
    ...(last && last.braked > 0 ? [{ kind: "held" as const, round: last.id, at: last.at, stops: last.braked }] : []),
    ...[...doubts].map(([account, doubt]) => {
      const { since, person, needsPerson } = doubt;
      return { kind: "doubted" as const, account, doubt: { since, person, needsPerson }, lack: lackOf(doubt) };
    }),
    ...byFleet(missing).map(([fleet, list]) => ({
      kind: "missing" as const,
      fleet,
      count: list.length,
      names: list.slice(0, NAMES).map(({ name }) => name),
      why: list[0]?.lastAnswer ?? "",
    })),
    ...byFleet(ill).map(([fleet, list]) => ({
      kind: "unhealthy" as const,
      fleet,
      count: list.length,
      names: list.slice(0, NAMES).map(({ name }) => name),
      // Of several plans the one that replaces has its day's used up.
      care: list.every(({ care }) => care === list[0]?.care) ? (list[0]?.care ?? "replace") : "replace",
    })),
    ...accounts.flatMap(({ name, readError, readAt }) =>
      readError === null ? [] : [{ kind: "unread" as const, account: name, part: null, error: readError, readAt }],
    ),
    ...accounts.flatMap(({ name, partErrors, readAt }) =>
      Object.entries(partErrors).map(([part, error]) => ({ kind: "unread" as const, account: name, part, error, readAt })),
    ),
    ...accounts.flatMap(({ name, setAside }) =>
      setAside.length === 0 ? [] : [{ kind: "set aside" as const, account: name, odd: setAside }],
    ),
  ];
}

function byFleet<T extends Readonly<{ fleet: string | null }>>(list: readonly T[]): [string, T[]][] {
  const fleets = new Map<string, T[]>();
  for (const one of list) {
    const own = fleets.get(one.fleet ?? "");
    if (own) own.push(one);
    else fleets.set(one.fleet ?? "", [one]);
  }
  return [...fleets];
}

/** A person says that a doubted listing is true; the next reading that says the same is believed. */
export async function believeListing(
  services: Services,
  actor: Actor,
  { account, since }: { account: string; since: Instant },
): Promise<void> {
  authorise(actor, "approve stops", { kind: "account", account });
  const isThere = await confirmDoubt(services.pool, account, { since, person: actor.name });
  if (!isThere) throw new RefusedError("changed_since", `The listing of ${account} is doubted otherwise by now. Look again.`);
  await signal(services.pool, "round");
}
