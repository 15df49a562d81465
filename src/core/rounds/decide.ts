import { type CompiledSchedule, type Level, OFF } from "../hours";
import { atOnce, mapped, type Pieces } from "../pieces";
import { askedOf, type CapabilitiesByAccount, capabilitiesFor, type FleetPlan, isGuarded, type Resource } from "../plan";
import type { Instant } from "../time";
import { actionToward, type Wanted } from "./action";
import { blockOf, earlyUntil, goesBefore, isBilledInBlocks } from "./blocks";
import { brake, type Limits } from "./brake";
import { claimer } from "./claim";
import type { Due } from "./due";
import { type DueEdge, nextDueEdges } from "./due-edges";
import { dueReader } from "./due-reader";
import { type HoursObserved, observedAfter } from "./foreseen";
import type { HeldStops } from "./held";
import { type HoursFinder, hoursFinder } from "./hours-of";
import { kindOfRule, OVERRIDES, type Override } from "./override";
import { overridesOn } from "./overrides-on";
import { type ClosedReason, decidingReason, type Reason, type RuleRead } from "./reason";
import { withPlaces } from "./with-places";

/** An action that was recorded and has not ended. */
export type OpenAction = Readonly<{ level: Level; tryAgainAt: Instant; lastAnswer: string }>;

export type RoundInput = Readonly<{
  now: Instant;
  resources: readonly Resource[];
  /** In rank order; only those in force. */
  fleets: readonly FleetPlan[];
  schedules: ReadonlyMap<string, CompiledSchedule>;
  overrides: readonly Override[];
  /** For fleets that act on edges: the due level that was last acted on. */
  lastDue: ReadonlyMap<string, Level>;
  openActions: ReadonlyMap<string, OpenAction>;
  capabilities: CapabilitiesByAccount;
  /** Accounts in which nothing may be done in this round, with the reason: unread, doubted, paused. */
  closed: ReadonlyMap<string, ClosedReason>;
  /** Resources that were listed with something that cannot be understood, with what it is. */
  setAside: ReadonlyMap<string, string>;
  /** What hours said at the last finished round, by resource. */
  seen: ReadonlyMap<string, HoursObserved>;
  /** True where the hours of a resource, as they stood an hour ago, fell between the last finished round and now. */
  fellAsKnown: (resource: Resource) => boolean;
  /** True where the hours of a resource, as they stood an hour ago, fall to off within two rounds from now. */
  fallsAsKnown: (resource: Resource) => boolean;
  /** Stops that earlier rounds held back and no person has said anything to yet. */
  held: HeldStops;
  /** Stops a person has confirmed or let go, by resource. */
  approved: ReadonlySet<string>;
  /** True where the idle trips of a fleet in the last hour are no more than it is used to. */
  usualTrips: (fleet: string) => boolean;
  limits: Limits;
  /** How long until the next round at the latest; for stopping before a billing boundary. */
  roundEveryS: number;
}>;

/** `act`: send it. `as due`: nothing to do. `left`: no rule asks for anything. `waiting`: later. `braked`: a person is asked. */
export type Verdict = "act" | "as due" | "left" | "waiting" | "braked";

export type Decision = Readonly<{
  resourceId: string;
  fleet: string | null;
  due: Level | null;
  actual: Level;
  verdict: Verdict;
  reasons: readonly Reason[];
  chain: readonly RuleRead[];
  action: Wanted | null;
  /** A stop that nothing known an hour before asked for, and no person. */
  isUnforeseen: boolean;
  /** What to remember of its hours; null without a fleet. */
  seen: HoursObserved | null;
}>;

const NO_FLEET: Due = {
  level: null,
  hours: null,
  decidedBy: "leave",
  offAction: null,
  chain: [{ rule: "fleet", applies: false, reason: { code: "no fleet" } }],
};

/** One decision per resource, in the order given. Pure: the same input gives the same decisions. */
export function decide(input: RoundInput): readonly Decision[] {
  return atOnce(deciding(input));
}

/** The same, piece by piece: a hundred thousand take seconds. */
export function* deciding(input: RoundInput): Pieces<readonly Decision[]> {
  const claim = claimer(input.fleets);
  const dueOf = dueReader(input);
  const hoursOf = hoursFinder(input.schedules, input.capabilities);
  const onIt = overridesOn(input.overrides);
  let running = 0;
  const decisions = yield* mapped(withPlaces(input.resources, input.fleets), (resource) => {
    const fleet = claim(resource);
    const due = fleet ? dueOf(resource, fleet) : NO_FLEET;
    if (fleet && resource.level > 0 && !isGuarded(resource)) running++;
    return decideOne(resource, { fleet, due, input, hoursOf, onIt });
  });
  return brake(decisions, { running, limits: input.limits, approved: input.approved, held: input.held });
}

type HoldsOn = ReturnType<typeof overridesOn<Override>>;
type Context = Readonly<{ fleet: FleetPlan | null; due: Due; input: RoundInput; hoursOf: HoursFinder; onIt: HoldsOn }>;

function decideOne(resource: Resource, { fleet, due, input, hoursOf, onIt }: Context): Decision {
  const { now } = input;
  const seen = fleet ? lookAt(resource, { fleet, due, input }) : null;
  const isForeseen =
    isForeseenOverride(due, { fleet, input, isHeld: input.held.get(resource.id)?.reason === "unforeseen" }) ||
    (seen !== null && seen.foreseenSince !== null) ||
    input.approved.has(resource.id);
  let isUnforeseen = false;
  const say = (verdict: Verdict, reasons: readonly Reason[], action: Wanted | null = null): Decision => ({
    resourceId: resource.id,
    fleet: fleet?.name ?? null,
    due: due.level,
    actual: resource.level,
    verdict,
    reasons,
    chain: due.chain,
    action,
    isUnforeseen,
    seen,
  });
  const closed = input.closed.get(resource.fields.account ?? "");
  if (closed !== undefined) return say("left", [closed]);
  const error = input.setAside.get(resource.id);
  if (error !== undefined) return say("left", [{ code: "set aside", error }]);
  const capabilities = capabilitiesFor(resource, input.capabilities);
  if (!fleet || due.level === null || !capabilities) return say("left", [decidingReason(due)]);

  const off = due.offAction === null ? fleet : { ...fleet, offAction: due.offAction };
  const atDue = actionToward(resource, due.level, { fleet: off, capabilities });
  const when = { now, roundEveryS: input.roundEveryS, capabilities };
  const block = blockOf(resource, when);
  const ahead = block?.isLastChance && !atDue ? fallAhead(resource, { fleet, input, hoursOf, onIt }) : null;
  const early = block && ahead && goesBefore(ahead, block, when) ? ahead : null;
  const wanted = early ? actionToward(resource, OFF, { fleet, capabilities }) : atDue;
  if (!wanted) return say("as due", [decidingReason(due), { code: "is", state: resource.state }]);
  const why: Reason = early ? { code: "before the block ends", because: early.because, at: early.at } : decidingReason(due);
  const level = early ? early.to : due.level;
  const isRise = wanted.level > resource.level;
  if (askedOf(fleet, { due: wanted.level, level: resource.level }) === null)
    return say("left", [why, { code: "started by hand only" }]);
  if (resource.state === "starting" || resource.state === "stopping")
    return say("waiting", [{ code: "in transit", state: resource.state }]);
  const end =
    isRise && resource.level === OFF && isBilledInBlocks(resource, capabilities)
      ? fallAhead(resource, { fleet, input, hoursOf, onIt })
      : null;
  if (end) return say("left", [{ code: "too short to start", because: end.because, at: end.at }]);
  const open = input.openActions.get(resource.id);
  if (fleet.enforce === "edges" && !open && input.lastDue.get(resource.id) === level) {
    return say("left", [why, { code: "acted on at this edge" }]);
  }
  if (open && open.level === wanted.level && open.tryAgainAt > now) {
    return say("waiting", [{ code: "asked again later", verb: wanted.verb, answer: open.lastAnswer }]);
  }
  isUnforeseen = wanted.level === 0 && resource.level > 0 && !isForeseen && !early;
  if (!isRise && block && !block.isLastChance) return say("waiting", [why, { code: "its block is paid for" }]);
  return { ...say("act", wanted.note === null ? [why] : [why, wanted.note], wanted), due: level };
}

function isForeseenOverride(
  { decidedBy }: Due,
  { fleet, input, isHeld }: Pick<Context, "fleet" | "input"> & { isHeld: boolean },
): boolean {
  const kind = kindOfRule(decidedBy);
  if (kind === null) return false;
  switch (OVERRIDES[kind].foreseen) {
    case "always":
      return true;
    case "as usual":
      // What nobody foresaw when it was held is not foreseen by waiting.
      return !isHeld && fleet !== null && input.usualTrips(fleet.name);
    case "never":
      return false;
  }
}

function lookAt(resource: Resource, { fleet, due, input }: { fleet: FleetPlan; due: Due; input: RoundInput }): HoursObserved {
  return observedAfter(input.seen.get(resource.id), {
    fleet: fleet.name,
    level: due.hours,
    now: input.now,
    isOff: resource.level === 0 && resource.state !== "starting",
    runSince: resource.runSince,
    fellAsKnown: () => input.fellAsKnown(resource),
  });
}

/** The fall to off that comes within two rounds, if it was known an hour ago or a person asked for it; null where none does. */
function fallAhead(resource: Resource, { fleet, input, hoursOf, onIt }: Ahead): DueEdge | null {
  const { now } = input;
  const until = earlyUntil(input);
  const following = { fleet, overrides: onIt(resource.id, fleet.name), hours: hoursOf(resource, fleet) };
  const [edge] = nextDueEdges(resource, following, { t: now, count: 1 });
  if (!edge || edge.to !== OFF || edge.at > until) return null;
  const kind = kindOfRule(edge.decidedBy);
  const isAsked = kind !== null && OVERRIDES[kind].by === "person";
  return isAsked || input.fallsAsKnown(resource) ? edge : null;
}

type Ahead = Readonly<{ fleet: FleetPlan; input: RoundInput; hoursOf: HoursFinder; onIt: HoldsOn }>;
