import type { Instant } from "@/core/time";
import {
  type DecisionGroup,
  decisionGroups,
  decisionsOf,
  lastActRound,
  type MixOrderLine,
  maybeRound,
  mixOrdersOf,
  type Round,
  roundList,
  type StoredDecision,
} from "@/store";
import { type Actor, authorise, ESTATE, RefusedError, type Services } from "../admin";

/** A stretch of the journal: one round in which something happened, or a row of quiet ones folded into a line. */
export type JournalEntry =
  | Readonly<{ kind: "round"; round: Round }>
  | Readonly<{ kind: "quiet"; count: number; first: Round; last: Round }>;

/** Nothing was sent or tried, nothing waits, nothing is new, and every account was read. */
export function isQuiet(round: Round): boolean {
  return (
    round.mode === "act" &&
    round.status === "done" &&
    round.sent + round.tried + round.waiting + round.braked + round.changed === 0 &&
    Object.keys(round.unread).length === 0
  );
}

/** Newest first. A quiet round alone stays a round; two and more become one line. */
export function foldQuiet(rounds: readonly Round[]): JournalEntry[] {
  const entries: JournalEntry[] = [];
  let quiet: Round[] = [];
  const flush = () => {
    const [newest] = quiet;
    const oldest = quiet.at(-1);
    if (newest && oldest && quiet.length > 1) entries.push({ kind: "quiet", count: quiet.length, first: oldest, last: newest });
    else if (newest) entries.push({ kind: "round", round: newest });
    quiet = [];
  };
  for (const round of rounds) {
    if (isQuiet(round)) {
      quiet.push(round);
      continue;
    }
    flush();
    entries.push({ kind: "round", round });
  }
  flush();
  return entries;
}

export type Journal = Readonly<{
  entries: readonly JournalEntry[];
  /** Where older rounds go on; null at the end. */
  older: number | null;
  last: Round | null;
  now: Instant;
}>;

const PAGE = 300;

/** The rounds before one of them, and not after the instant asked about. */
export async function journalPage(
  services: Services,
  actor: Actor,
  { before, at }: { before: number | null; at: Instant | null },
): Promise<Journal> {
  authorise(actor, "look", ESTATE);
  const [rounds, last, { now }] = await Promise.all([
    roundList(services.pool, { before, at, limit: PAGE }),
    lastActRound(services.pool),
    services.clock.read(),
  ]);
  return { entries: foldQuiet(rounds), older: rounds.length === PAGE ? (rounds.at(-1)?.id ?? null) : null, last, now };
}

export type OpenRound = Readonly<{
  /** What it asked for to keep mixes. */
  orders: readonly MixOrderLine[];
  round: Round;
  /** Everything that was decided, by what and why. */
  groups: readonly DecisionGroup[];
  /** Of all, or of the one group that was opened. */
  decisions: readonly StoredDecision[];
  isMore: boolean;
}>;

const DECISIONS_PAGE = 500;

/** One round to every decision that held in it, or to those of one group, by its place. Throws a RefusedError where there is none. */
export async function openRound(
  services: Services,
  actor: Actor,
  { id, offset, group = null }: { id: number; offset: number; group?: number | null },
): Promise<OpenRound> {
  authorise(actor, "look", ESTATE);
  const round = await maybeRound(services.pool, id);
  if (!round) throw new RefusedError("not_found", `There is no round ${id}.`);
  const [groups, orders] = await Promise.all([decisionGroups(services.pool, round), mixOrdersOf(services.pool, id)]);
  const opened = group === null ? null : (groups[group] ?? null);
  const decisions = await decisionsOf(services.pool, round, { limit: DECISIONS_PAGE + 1, offset, group: opened });
  return { round, groups, orders, decisions: decisions.slice(0, DECISIONS_PAGE), isMore: decisions.length > DECISIONS_PAGE };
}

export type { DecisionGroup, MixOrderLine, Round, StoredDecision };
