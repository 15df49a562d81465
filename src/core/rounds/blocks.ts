import type { Capabilities, Resource } from "../plan";
import { HOUR_S, type Instant, MINUTE_S } from "../time";
import type { DueEdge } from "./due-edges";

/** A provider that bills in blocks at least this long is worth waiting for. */
const BLOCK_S = HOUR_S / 4;
/** A stop goes at most so many rounds before it is due. */
const EARLY_ROUNDS = 2;

export type Block = Readonly<{
  /** When the block that it runs in ends; what runs on after that pays another. */
  endsAt: Instant;
  /** True where the next round may come too late to be off by then. */
  isLastChance: boolean;
}>;

type When = Readonly<{ now: Instant; roundEveryS: number; capabilities: Capabilities }>;

/** True for what its provider bills in blocks that are worth waiting for. */
export function isBilledInBlocks({ kind }: Pick<Resource, "kind">, { billing }: Capabilities): boolean {
  return (kind === "machine" || kind === "service") && billing[kind].granularityS >= BLOCK_S;
}

/** The block a resource runs in; null where it does not run, or is billed by less. */
export function blockOf(resource: Resource, { now, roundEveryS, capabilities }: When): Block | null {
  const { kind, runSince } = resource;
  if (runSince === null || !isBilledInBlocks(resource, capabilities) || (kind !== "machine" && kind !== "service")) return null;
  const { granularityS } = capabilities.billing[kind];
  const endsAt = runSince + Math.ceil((now - runSince + 1) / granularityS) * granularityS;
  const needed = capabilities.usualS.stop + 2 * Math.max(roundEveryS, MINUTE_S);
  return { endsAt, isLastChance: endsAt - now <= needed };
}

/** Until when an edge is near enough for what is billed in blocks to go before it. */
export function earlyUntil({ now, roundEveryS }: Pick<When, "now" | "roundEveryS">): Instant {
  return now + EARLY_ROUNDS * roundEveryS;
}

/**
 * True where a stop goes before its edge: the edge is at most two rounds ahead, the block ends within a round
 * after it, so that a stop at the edge would pay another, and one now ends in time.
 */
export function goesBefore(edge: Pick<DueEdge, "at" | "to">, block: Block, when: When): boolean {
  const { now, roundEveryS, capabilities } = when;
  if (edge.to !== 0 || edge.at > earlyUntil(when)) return false;
  const isWithinRound = block.endsAt >= edge.at && block.endsAt - edge.at <= roundEveryS;
  return isWithinRound && block.isLastChance && now + capabilities.usualS.stop <= block.endsAt;
}
