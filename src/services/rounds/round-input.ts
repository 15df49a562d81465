import type { Level } from "@/core/hours";
import {
  decide,
  earlyUntil,
  fellReader,
  type MixedDecisions,
  mixedDecisions,
  NO_LIMITS,
  type Override,
  ROUND_EVERY_S,
  type RoundInput,
  STOOD_S,
  withMembers,
} from "@/core/rounds";
import { HOUR_S, type Instant } from "@/core/time";
import {
  type Action,
  hoursSeenMap,
  lastDueMap,
  lastFullRound,
  letGoSet,
  openActionOf,
  overridesBetween,
  overridesFrom,
  pauseList,
  recentRefusals,
  tripCounts,
  unforeseenSince,
} from "@/store";
import type { Services } from "../admin";
import { compileAll, plansInForce, resourcesByFleet, type StoredWorld, withPlansAt } from "../inventory";
import { memberUnits, mixedGroups } from "../mix";
import { stopLimit } from "./stop-limit";

export type Asked = Readonly<{
  world: StoredWorld;
  now: Instant;
  open: readonly Action[];
  /** Accounts in which nothing may be done, with the reason, besides those that are paused. */
  closed: ReadonlyMap<string, string>;
  /** A rehearsal goes by no pause: it says what would be done. */
  isRehearsal: boolean;
  /** Only the machines of this fleet; null: everything. */
  fleet: string | null;
  /** Set where `now` is another instant than the present: what was due a minute before it, by resource. */
  elsewhen?: ReadonlyMap<string, Level>;
  /** Holds besides those that are stored. */
  holds?: readonly Override[];
}>;

/** What was decided, how many units mixes are kept at, and what hours had said before. */
export type Decided = MixedDecisions & Readonly<{ seen: RoundInput["seen"] }>;

/** Decides on what is stored: everything besides the readings of this round is read anew. */
export async function decideNow(services: Services, asked: Asked): Promise<Decided> {
  const [input, units] = await Promise.all([roundInput(services, asked), memberUnits(services, asked.world, asked.now)]);
  const decisions = decide({ ...input, resources: withMembers(input.resources, units) });
  const groups = new Map(input.resources.flatMap((one) => (units.has(one.id) ? [[one.id, one] as const] : [])));
  const standing = new Map(
    mixedGroups(asked.world).flatMap(({ group, mix }) => {
      const isClosed = input.closed.has(group.fields.account ?? "") || input.setAside.has(group.id);
      return isClosed || typeof mix.wanted !== "number" ? [] : [[group.id, mix.wanted] as const];
    }),
  );
  return { ...mixedDecisions(decisions, { groups, units, standing }), seen: input.seen };
}

async function roundInput(services: Services, asked: Asked): Promise<RoundInput> {
  const { world, now, open, closed, isRehearsal, fleet, elsewhen, holds: others = [] } = asked;
  const { pool } = services;
  const [refused, holds, lastDue, seen, letGo, unforeseenOfHour, stops, last, then, pauses, trips] = await Promise.all([
    elsewhen ? [] : recentRefusals(pool, now),
    elsewhen ? overridesBetween(pool, { from: now, to: now + 1 }) : overridesFrom(pool, now),
    elsewhen ?? lastDueMap(pool),
    hoursSeenMap(pool),
    letGoSet(pool, now),
    unforeseenSince(pool, now - HOUR_S),
    stopLimit(pool),
    lastFullRound(pool),
    withPlansAt(pool, world, now - STOOD_S),
    isRehearsal ? [] : pauseList(pool),
    tripCounts(pool, now),
  ]);
  const setAside = world.accounts.flatMap((account) =>
    account.setAside.flatMap(({ id, why }) =>
      id === null ? [] : ([[id, `it is listed with what cannot be understood: ${why}`]] as const),
    ),
  );
  const known = {
    asOf: now - STOOD_S,
    fleets: plansInForce(then),
    schedules: compileAll(then.schedules, then.calendars),
    capabilities: world.capabilities,
  };
  return {
    now,
    resources: fleet === null ? world.schedulable : (resourcesByFleet(world).get(fleet) ?? []),
    fleets: plansInForce(world),
    schedules: compileAll(world.schedules, world.calendars),
    overrides: [...others, ...holds],
    lastDue,
    openActions: new Map([...refused, ...open].map((action) => [action.resourceId, openActionOf(action)])),
    capabilities: world.capabilities,
    closed: new Map([...pausedAccounts(world, pauses), ...closed]),
    setAside: new Map(setAside),
    seen,
    fellAsKnown: fellReader({ ...known, from: elsewhen ? now - ROUND_EVERY_S : (last?.at ?? now), to: now }),
    fallsAsKnown: fellReader({ ...known, from: now, to: earlyUntil({ now, roundEveryS: ROUND_EVERY_S }) }),
    letGo,
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

function pausedAccounts({ accounts }: StoredWorld, pauses: Awaited<ReturnType<typeof pauseList>>): ReadonlyMap<string, string> {
  const words = ({ account, person, reason }: (typeof pauses)[number]) =>
    `rounds are paused${account === null ? "" : " here"} by ${person}: ${reason}`;
  return new Map(
    accounts.flatMap(({ name }) => {
      const pause = pauses.find(({ account }) => account === null || account === name);
      return pause ? [[name, words(pause)] as const] : [];
    }),
  );
}
