import type { CompiledSchedule, Considered, Level } from "../hours";
import { type Capabilities, type FleetPlan, isGuarded, type Resource } from "../plan";
import { HOUR_S, type Instant, MINUTE_S } from "../time";
import { actionToward, type Wanted } from "./action";
import { brake, type Limits } from "./brake";
import { claimer } from "./claim";
import type { Due, Hold } from "./due";
import { dueReader } from "./due-reader";
import { type HoursSeen, seenAfter } from "./foreseen";

/** An action that was recorded and has not ended. */
export type OpenAction = Readonly<{ level: Level; tryAgainAt: Instant; lastAnswer: string }>;

export type RoundInput = Readonly<{
  now: Instant;
  resources: readonly Resource[];
  /** In rank order; only those in force. */
  fleets: readonly FleetPlan[];
  schedules: ReadonlyMap<string, CompiledSchedule>;
  holds: readonly Hold[];
  /** Idle trips in effect: resource to the instant of the trip. */
  trips: ReadonlyMap<string, Instant>;
  /** For fleets that act on edges: the due level that was last acted on. */
  lastDue: ReadonlyMap<string, Level>;
  openActions: ReadonlyMap<string, OpenAction>;
  capabilities: ReadonlyMap<string, Capabilities>;
  /** Accounts in which nothing may be done in this round, with the reason: unread, doubted, paused. */
  closed: ReadonlyMap<string, string>;
  /** Resources that were listed with something that cannot be understood, with the reason. */
  setAside: ReadonlyMap<string, string>;
  /** What hours said at the last finished round, by resource. */
  seen: ReadonlyMap<string, HoursSeen>;
  /** True where the hours of a resource, as they stood an hour ago, fell between the last finished round and now. */
  fellAsKnown: (resource: Resource) => boolean;
  /** Stops a person has confirmed or let go, by resource. */
  letGo: ReadonlySet<string>;
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
  why: string;
  chain: readonly Considered[];
  action: Wanted | null;
  /** A stop that nothing known an hour before asked for, and no person. */
  isUnforeseen: boolean;
  /** What to remember of its hours; null without a fleet. */
  seen: HoursSeen | null;
}>;

const NO_FLEET: Due = {
  level: null,
  hours: null,
  decidedBy: "leave",
  chain: [{ rule: "fleet", applies: false, why: "no fleet in force matches" }],
};
/** A provider that bills in blocks at least this long is worth waiting for. */
const BLOCK_S = HOUR_S / 4;

/** One decision per resource, in the order given. Pure: the same input gives the same decisions. */
export function decide(input: RoundInput): readonly Decision[] {
  const claim = claimer(input.fleets);
  const dueOf = dueReader(input);
  let running = 0;
  const decisions = input.resources.map((resource) => {
    const fleet = claim(resource);
    const due = fleet ? dueOf(resource, fleet) : NO_FLEET;
    if (fleet && resource.level > 0 && !isGuarded(resource)) running++;
    return decideOne(resource, { fleet, due, input });
  });
  return brake(decisions, { running, limits: input.limits, letGo: input.letGo });
}

type Context = Readonly<{ fleet: FleetPlan | null; due: Due; input: RoundInput }>;

function decideOne(resource: Resource, { fleet, due, input }: Context): Decision {
  const { now } = input;
  const seen = fleet ? lookAt(resource, { fleet, due, input }) : null;
  const isForeseen =
    due.decidedBy.startsWith("hold") || (seen !== null && seen.foreseenSince !== null) || input.letGo.has(resource.id);
  let isUnforeseen = false;
  const say = (verdict: Verdict, why: string, action: Wanted | null = null): Decision => ({
    resourceId: resource.id,
    fleet: fleet?.name ?? null,
    due: due.level,
    actual: resource.level,
    verdict,
    why,
    chain: due.chain,
    action,
    isUnforeseen,
    seen,
  });
  const closed = input.closed.get(resource.fields.account ?? "") ?? input.setAside.get(resource.id);
  if (closed !== undefined) return say("left", closed);
  const capabilities = input.capabilities.get(resource.fields.provider ?? "");
  if (!fleet || due.level === null || !capabilities) return say("left", lastWhy(due));

  const wanted = actionToward(resource, due.level, { fleet, capabilities });
  if (!wanted) return say("as due", `${lastWhy(due)}; it is ${resource.state}`);
  const isRise = wanted.level > resource.level;
  if (isRise && fleet.starts === "hand") return say("left", `${lastWhy(due)}; this fleet is started by hand`);
  if (resource.state === "starting" || resource.state === "stopping") return say("waiting", `it is ${resource.state}`);
  const open = input.openActions.get(resource.id);
  if (fleet.enforce === "edges" && !open && input.lastDue.get(resource.id) === due.level) {
    return say("left", `${lastWhy(due)}; already acted on at this edge, a person may have changed it since`);
  }
  if (open && open.level === wanted.level && open.tryAgainAt > now) {
    return say("waiting", `${wanted.verb} was asked for, and the answer was: ${open.lastAnswer}; it is asked again later`);
  }
  isUnforeseen = wanted.level === 0 && resource.level > 0 && !isForeseen;
  const paidUntil = paidUntilIfWorthIt(resource, { isRise, capabilities, input });
  if (paidUntil) return say("waiting", `${lastWhy(due)}; the block it runs in is paid for, it goes just before the end`);
  return say("act", [lastWhy(due), wanted.note].filter(Boolean).join("; "), wanted);
}

function lookAt(resource: Resource, { fleet, due, input }: { fleet: FleetPlan; due: Due; input: RoundInput }): HoursSeen {
  return seenAfter(input.seen.get(resource.id), {
    fleet: fleet.name,
    level: due.hours,
    now: input.now,
    isOff: resource.level === 0 && resource.state !== "starting",
    runSince: resource.runSince,
    fellAsKnown: () => input.fellAsKnown(resource),
  });
}

function lastWhy({ chain, decidedBy }: Due): string {
  return (chain.find(({ rule, applies }) => applies && rule === decidedBy) ?? chain.at(-1))?.why ?? "no rule speaks";
}

/** True while a reduction may wait for the end of a billing block and another round comes before that end. */
function paidUntilIfWorthIt(
  resource: Resource,
  { isRise, capabilities, input }: { isRise: boolean; capabilities: Capabilities; input: RoundInput },
): boolean {
  if (isRise || resource.runSince === null) return false;
  if (resource.kind !== "machine" && resource.kind !== "service") return false;
  const { granularityS } = capabilities.billing[resource.kind];
  if (granularityS < BLOCK_S) return false;
  const paidUntil = resource.runSince + Math.ceil((input.now - resource.runSince + 1) / granularityS) * granularityS;
  const needed = capabilities.usualS.stop + 2 * Math.max(input.roundEveryS, MINUTE_S);
  return paidUntil - input.now > needed;
}
