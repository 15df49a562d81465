import { type ClosedReason, isTooOld } from "@/core/rounds";
import type { Instant } from "@/core/time";
import type { ProviderParts } from "@/provider";
import { type Lead, type MixMember, readDataVersions } from "@/store";
import type { Services } from "../admin";
import type { Snapshot } from "../inventory";

/** One round, as far as mixes are kept by it. */
export type MixReconciling = Readonly<{
  snapshot: Snapshot;
  /** The machines that mixes have. */
  members: readonly MixMember[];
  /** How many units each group is to be kept at; null where nothing may be done for it. */
  wanted: ReadonlyMap<string, number | null>;
  /** What is, by this round's decision, as it is due. */
  asDue: ReadonlySet<string>;
  /** Accounts in which nothing may be done. */
  closed: ReadonlyMap<string, ClosedReason>;
  lead: Lead;
  roundId: number;
  now: Instant;
  /** The round before. */
  before: Instant;
  /** The counter of what may speak against the decisions, from before they were made. */
  rules: string;
  portOf: (account: string) => ProviderParts | undefined;
  /** Nothing more is asked for once it aborts; what is left goes with the next round. */
  signal: AbortSignal;
}>;

/** Where something was asked for, and how often it was accepted. */
export type Asked = Readonly<{ accounts: ReadonlySet<string>; count: number }>;

/** Between deciding and sending a hold, a guard, a pause may have come, or much time may have passed: then the next round goes on. */
export async function mayGoOn({ pool, clock }: Services, { signal, rules, now }: MixReconciling): Promise<boolean> {
  if (signal.aborted) return false;
  const [versions, reading] = await Promise.all([readDataVersions(pool), clock.read()]);
  return versions.rules === rules && !isTooOld(now, reading);
}

/** Whoever does work that must not be cut off marks its machine so. */
export function isBusy({ tags }: Readonly<{ tags: Readonly<Record<string, string>> }>): boolean {
  return tags["umbrik-busy"] !== undefined;
}
