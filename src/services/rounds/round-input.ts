import type { Level } from "@/core/hours";
import { atOnce, type Pieces } from "@/core/pieces";
import {
  type ClosedReason,
  deciding,
  earlyUntil,
  fellReader,
  type HeldStops,
  type MixedDecisions,
  mixedDecisions,
  NO_LIMITS,
  ROUND_EVERY_S,
  type RoundInput,
  STOOD_S,
  withMembers,
} from "@/core/rounds";
import { HOUR_S, type Instant } from "@/core/time";
import {
  type Action,
  approvedStops,
  hoursSeenMap,
  inPieces,
  lastDueMap,
  type MixMember,
  mixMembers,
  openActionOf,
  overridesFrom,
  type Pause,
  pauseList,
  recentRefusals,
  type StoredOverride,
  tripCounts,
  unforeseenSince,
} from "@/store";
import type { Services } from "../admin";
import { compileAll, plansInForce, resourcesByFleet, type Snapshot, withPlansAt } from "../inventory";
import { memberUnits, mixedGroups } from "../mix";
import { stopLimit } from "./stop-limit";

/** What is decided on: what a round has read, and of its steps so far what they changed. */
export type DecidingState = Readonly<{
  snapshot: Snapshot;
  overrides: readonly StoredOverride[];
  members: readonly MixMember[];
  /** Actions that have not ended. */
  open: readonly Action[];
  /** Stops that are held until a person has spoken. */
  held: HeldStops;
  /** Accounts in which nothing may be done, with the reason, besides those that are paused. */
  closed: ReadonlyMap<string, ClosedReason>;
  /** The last round that looked at everything; null before the first. */
  before: Instant | null;
  now: Instant;
  /** A rehearsal goes by no pause: it says what would be done. */
  isRehearsal: boolean;
  /** Only the machines of this fleet; null: everything. */
  fleet: string | null;
}>;

/** What was decided, how many units mixes are kept at, and what hours had said before. */
export type Decided = MixedDecisions & Readonly<{ seen: RoundInput["seen"] }>;

/** What a decision rests on besides what a round has read. */
export type DecisionFacts = Readonly<{
  refused: readonly Action[];
  lastDue: ReadonlyMap<string, Level>;
  seen: RoundInput["seen"];
  approved: ReadonlySet<string>;
  unforeseenOfHour: ReadonlySet<string>;
  stops: number | null;
  pauses: readonly Pause[];
  trips: Awaited<ReturnType<typeof tripCounts>>;
  /** Plans, schedules and calendars as they stood an hour ago. */
  anHourAgo: Snapshot;
}>;

/** Reads what a decision rests on. */
export async function decisionFacts({ pool }: Services, { snapshot, now, isRehearsal }: DecidingState): Promise<DecisionFacts> {
  const [refused, lastDue, seen, approved, unforeseenOfHour, stops, anHourAgo, pauses, trips] = await Promise.all([
    recentRefusals(pool, now),
    lastDueMap(pool),
    hoursSeenMap(pool),
    approvedStops(pool, now),
    unforeseenSince(pool, now - HOUR_S),
    stopLimit(pool),
    withPlansAt(pool, snapshot, now - STOOD_S),
    isRehearsal ? [] : pauseList(pool),
    tripCounts(pool, now),
  ]);
  return { refused, lastDue, seen, approved, unforeseenOfHour, stops, anHourAgo, pauses, trips };
}

/** One decision per resource, mixes counted. Pure. */
export function decideOn(state: DecidingState, facts: DecisionFacts): Decided {
  return atOnce(decidingOn(state, facts));
}

/** The same, piece by piece. */
export function* decidingOn(state: DecidingState, facts: DecisionFacts): Pieces<Decided> {
  const { snapshot, members, now } = state;
  const input = roundInput(state, facts);
  const units = memberUnits(snapshot, members, now);
  const decisions = yield* deciding({ ...input, resources: withMembers(input.resources, units) });
  const groups = new Map(input.resources.flatMap((one) => (units.has(one.id) ? [[one.id, one] as const] : [])));
  const standing = new Map(
    mixedGroups(snapshot).flatMap(({ group, mix }) => {
      const isClosed = input.closed.has(group.fields.account ?? "") || input.setAside.has(group.id);
      return isClosed || typeof mix.wanted !== "number" ? [] : [[group.id, mix.wanted] as const];
    }),
  );
  return { ...mixedDecisions(decisions, { groups, units, standing }), seen: input.seen };
}

/** Decides by what is stored now: what somebody changed since is read anew. */
export async function decideAgain(services: Services, state: DecidingState): Promise<Decided> {
  const [overrides, members] = await Promise.all([overridesFrom(services.pool, state.now), mixMembers(services.pool)]);
  const asOfNow = { ...state, overrides, members };
  return inPieces(decidingOn(asOfNow, await decisionFacts(services, asOfNow)));
}

function roundInput(state: DecidingState, facts: DecisionFacts): RoundInput {
  const { snapshot, now, open, closed, fleet, overrides, before } = state;
  const { refused, lastDue, seen, approved, unforeseenOfHour, stops, anHourAgo, pauses, trips } = facts;
  const setAside = snapshot.accounts.flatMap((account) =>
    account.setAside.flatMap(({ id, why }) => (id === null ? [] : ([[id, why]] as const))),
  );
  const known = {
    asOf: now - STOOD_S,
    fleets: plansInForce(anHourAgo),
    schedules: compileAll(anHourAgo.schedules, anHourAgo.calendars),
    capabilities: snapshot.capabilities,
  };
  return {
    now,
    resources: fleet === null ? snapshot.schedulable : (resourcesByFleet(snapshot).get(fleet) ?? []),
    fleets: plansInForce(snapshot),
    schedules: compileAll(snapshot.schedules, snapshot.calendars),
    overrides,
    lastDue,
    openActions: new Map([...refused, ...open].map((action) => [action.resourceId, openActionOf(action)])),
    capabilities: snapshot.capabilities,
    closed: new Map([...pausedAccounts(snapshot, pauses), ...closed]),
    setAside: new Map(setAside),
    seen,
    fellAsKnown: fellReader({ ...known, from: before ?? now, to: now }),
    fallsAsKnown: fellReader({ ...known, from: now, to: earlyUntil({ now, roundEveryS: ROUND_EVERY_S }) }),
    held: state.held,
    approved,
    usualTrips: (name) => isUsual(trips.get(name)),
    limits: { ...NO_LIMITS, stops, unforeseenOfHour },
    roundEveryS: ROUND_EVERY_S,
  };
}

/** An office that empties at one hour trips all at once every evening: that much is foreseen. */
const TRIPS_FORESEEN = 10;

function isUsual(trips: Readonly<{ ofHour: number; most: number }> | undefined): boolean {
  return trips === undefined || trips.ofHour <= Math.max(TRIPS_FORESEEN, 2 * trips.most);
}

function pausedAccounts({ accounts }: Snapshot, pauses: readonly Pause[]): ReadonlyMap<string, ClosedReason> {
  return new Map(
    accounts.flatMap(({ name }) => {
      const pause = pauses.find(({ account }) => account === null || account === name);
      if (!pause) return [];
      const { account, person, reason } = pause;
      return [[name, { code: "paused", person, reason, isHere: account !== null }] as const];
    }),
  );
}
