import type { CompiledSchedule, Considered, Level } from "../hours";
import type { Capabilities, FleetPlan, Resource } from "../plan";
import { HOUR_S, type Instant, MINUTE_S } from "../time";
import { actionToward, type Wanted } from "./action";
import { claimer } from "./claim";
import type { Due, Hold } from "./due";
import { dueReader } from "./due-reader";

/** An action that was recorded and has not ended. */
export type OpenAction = Readonly<{ level: Level; tryAgainAt: Instant; lastAnswer: string }>;

export type Limits = Readonly<{
  /** Actions that one round may send to one account. */
  perAccount: number;
  /** The stop brake: no stops at all in a round that would stop more than either. */
  brakeShare: number;
  brakeCount: number;
  /** Stops a person has allowed for this round by confirming their number. */
  allowedStops: number;
}>;

export const DEFAULT_LIMITS: Limits = { perAccount: 60, brakeShare: 0.6, brakeCount: 120, allowedStops: 0 };

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
  /** Accounts that could not be read in this round, with the reason. */
  unread: ReadonlyMap<string, string>;
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
}>;

const NO_FLEET: Due = {
  level: null,
  decidedBy: "leave",
  chain: [{ rule: "fleet", applies: false, why: "no fleet in force matches" }],
};
/** A provider that bills in blocks at least this long is worth waiting for. */
const BLOCK_S = HOUR_S / 4;

/** One decision per resource, in the order given. Pure: the same input gives the same decisions. */
export function decide(input: RoundInput): readonly Decision[] {
  const claim = claimer(input.fleets);
  const dueOf = dueReader(input);
  const perAccount = new Map<string, number>();
  const decisions = input.resources.map((resource) => {
    const fleet = claim(resource);
    const due = fleet ? dueOf(resource, fleet) : NO_FLEET;
    return decideOne(resource, { fleet, due, input, perAccount });
  });
  return brake(decisions, input);
}

type Context = Readonly<{ fleet: FleetPlan | null; due: Due; input: RoundInput; perAccount: Map<string, number> }>;

function decideOne(resource: Resource, { fleet, due, input, perAccount }: Context): Decision {
  const say = (verdict: Verdict, why: string, action: Wanted | null = null): Decision => ({
    resourceId: resource.id,
    fleet: fleet?.name ?? null,
    due: due.level,
    actual: resource.level,
    verdict,
    why,
    chain: due.chain,
    action,
  });
  const account = resource.fields.account ?? "";
  const unread = input.unread.get(account);
  if (unread !== undefined) return say("left", `the account was not read: ${unread}`);
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
  if (open && open.level === wanted.level && open.tryAgainAt > input.now) {
    return say("waiting", `${wanted.verb} was asked for, and the answer was: ${open.lastAnswer}; it is asked again later`);
  }
  const paidUntil = paidUntilIfWorthIt(resource, { isRise, capabilities, input });
  if (paidUntil) return say("waiting", `${lastWhy(due)}; the block it runs in is paid for, it goes just before the end`);

  const used = perAccount.get(account) ?? 0;
  if (used >= input.limits.perAccount)
    return say("waiting", `${input.limits.perAccount} actions were sent to ${account} in this round`);
  perAccount.set(account, used + 1);
  return say("act", [lastWhy(due), wanted.note].filter(Boolean).join("; "), wanted);
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

/** Turns every stop into a question where a round would stop too many. */
function brake(decisions: readonly Decision[], { resources, limits }: RoundInput): readonly Decision[] {
  const isStop = ({ action, actual }: Decision) => action !== null && action.level === 0 && actual > 0;
  const stops = decisions.filter(isStop).length;
  const running = resources.filter(({ level }) => level > 0).length;
  const isTooMany = stops > limits.brakeCount || stops > running * limits.brakeShare;
  // A handful is never a runaway: a workplace of three machines closes all three at night.
  if (!isTooMany || stops <= 3 || stops <= limits.allowedStops) return decisions;
  return decisions.map((decision) =>
    isStop(decision)
      ? {
          ...decision,
          verdict: "braked",
          why: `${decision.why}; the round would stop ${stops} of ${running}, so it stops none and asks`,
        }
      : decision,
  );
}
