import type { Instant } from "@/core/time";
import type { ProviderPort } from "@/provider";
import type { Lead } from "@/store";
import type { StoredWorld } from "../inventory";

/** One round, as far as mixes are kept by it. */
export type KeepingMixes = Readonly<{
  world: StoredWorld;
  /** How many units each group is to be kept at; null where nothing may be done for it. */
  wanted: ReadonlyMap<string, number | null>;
  /** Accounts in which nothing may be done. */
  closed: ReadonlyMap<string, string>;
  lead: Lead;
  roundId: number;
  now: Instant;
  /** The round before. */
  before: Instant;
  /** The counter of what may speak against the decisions, from before they were made. */
  rules: string;
  portOf: (account: string) => ProviderPort | undefined;
  /** Nothing more is asked for once it aborts; what is left goes with the next round. */
  signal: AbortSignal;
}>;

/** Where something was asked for, and how often it was accepted. */
export type Asked = Readonly<{ accounts: ReadonlySet<string>; count: number }>;
