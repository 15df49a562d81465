import { type CompiledSchedule, nextEdges } from "@/core/hours";
import type { Resource } from "@/core/plan";
import { type HoursOf, hoursFinder } from "@/core/rounds";
import { DAY_S, type Instant, MINUTE_S } from "@/core/time";
import { decisionsOf, lastActRound, maybeRound, type Round, roundList, type StoredDecision } from "@/store";
import { authorise, type Person, RefusedError, type Services } from "../admin";
import { compileAll, resourcesByFleet, worldAt } from "../inventory";

/** A stretch of the journal: one round in which something happened, or a row of quiet ones folded into a line. */
export type JournalEntry =
  | Readonly<{ kind: "round"; round: Round }>
  | Readonly<{ kind: "quiet"; count: number; first: Round; last: Round }>;

/** Nothing was sent, nothing waits, nothing is new, and every account was read. */
export function isQuiet(round: Round): boolean {
  return (
    round.mode === "act" &&
    round.status === "done" &&
    round.sent + round.waiting + round.braked + round.changed === 0 &&
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

export type ComingEdge = Readonly<{
  at: Instant;
  fleet: string;
  fleetId: number;
  to: number | null;
  because: string;
  zone: string;
  machines: number;
}>;

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
  person: Person,
  { before, at }: { before: number | null; at: Instant | null },
): Promise<Journal> {
  authorise(person, "look");
  const [rounds, last, { now }] = await Promise.all([
    roundList(services.pool, { before, at, limit: PAGE }),
    lastActRound(services.pool),
    services.clock.read(),
  ]);
  return { entries: foldQuiet(rounds), older: rounds.length === PAGE ? (rounds.at(-1)?.id ?? null) : null, last, now };
}

/** When the levels of the fleets in force change next, from now or from another instant on, soonest first. */
export async function comingEdges(
  services: Services,
  person: Person,
  { limit = 12, at = null }: { limit?: number; at?: Instant | null } = {},
): Promise<ComingEdge[]> {
  authorise(person, "look");
  const { at: now, ...world } = await worldAt(services, at);
  const find = hoursFinder(compileAll(world.schedules, world.calendars), world.capabilities);
  const members = resourcesByFleet(world);
  const edges = world.fleets.flatMap(({ id, inForce, name }) => {
    if (!inForce || inForce.hours === undefined) return [];
    return [...countByHours(members.get(name) ?? [], (resource) => find(resource, inForce))].flatMap(([hours, machines]) => {
      const ahead = nextEdges(hours, { t: now, count: 6, leadS: inForce.lead * MINUTE_S }).filter(
        ({ at }) => at < now + 14 * DAY_S,
      );
      const { zone } = hours.schedule;
      return ahead.map(({ at, to, because }) => ({ at, fleet: name, fleetId: id, to, because, zone, machines }));
    });
  });
  return edges.sort((a, b) => a.at - b.at || a.fleet.localeCompare(b.fleet)).slice(0, limit);
}

export type OpenRound = Readonly<{ round: Round; decisions: readonly StoredDecision[]; isMore: boolean }>;

const DECISIONS_PAGE = 500;

/** One round to every decision that held in it. Throws a RefusedError where there is none. */
export async function openRound(
  services: Services,
  person: Person,
  { id, offset }: { id: number; offset: number },
): Promise<OpenRound> {
  authorise(person, "look");
  const round = await maybeRound(services.pool, id);
  if (!round) throw new RefusedError("not_found", `There is no round ${id}.`);
  const decisions = await decisionsOf(services.pool, round, { limit: DECISIONS_PAGE + 1, offset });
  return { round, decisions: decisions.slice(0, DECISIONS_PAGE), isMore: decisions.length > DECISIONS_PAGE };
}

function countByHours(resources: readonly Resource[], find: (resource: Resource) => HoursOf): Map<CompiledSchedule, number> {
  const counts = new Map<CompiledSchedule, number>();
  for (const resource of resources) {
    const found = find(resource);
    if (found.kind === "schedule") counts.set(found.compiled, (counts.get(found.compiled) ?? 0) + 1);
  }
  return counts;
}

export type { Round, StoredDecision };
