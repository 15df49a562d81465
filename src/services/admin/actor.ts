import { AppError } from "@/core/error";

/** What somebody may do. `work` is the worker's duty: rounds by the clock, and the jobs of the queue. */
export const RIGHTS = [
  "set up",
  "look",
  "edit plans",
  "put in force",
  "hold",
  "stop",
  "ask for rounds",
  "pause rounds",
  "approve stops",
  "limit stops",
  "import",
  "send reports",
  "set prices",
  "move the clock",
  "tell metrics",
  "work",
] as const;
export type Right = (typeof RIGHTS)[number];

/** A fleet is known by its number or its name: a grant that names either holds. */
export type FleetRef = number | string;

/** What is acted on, or looked at. */
export type Scope =
  | Readonly<{ kind: "estate" }>
  | Readonly<{ kind: "fleet"; fleet: FleetRef }>
  | Readonly<{ kind: "account"; account: string }>
  /** By its key, which begins with its account; `fleet` is the one that has it, null where none has or it is not known yet. */
  | Readonly<{ kind: "resource"; id: string; fleet: FleetRef | null }>;

export const ESTATE: Scope = { kind: "estate" };

/** How far a right reaches: everything, or some fleets and accounts and what belongs to them. */
export type Reach = "everything" | Readonly<{ fleets: readonly FleetRef[]; accounts: readonly string[] }>;

/** Who acts, and what they may do how far. One built-in person for now; people and their roles come in here and nowhere else. */
export type Actor = Readonly<{ name: string; grants: readonly Readonly<{ right: Right; reach: Reach }>[] }>;

function withRights(name: string, rights: readonly Right[]): Actor {
  return { name, grants: rights.map((right) => ({ right, reach: "everything" })) };
}

export const DEMO_ACTOR: Actor = withRights(
  "demo",
  RIGHTS.filter((right) => right !== "work"),
);

/** The worker: it reads, carries plans out and does the jobs of the queue, and never changes a plan. */
export const WORKER: Actor = withRights("worker", ["look", "tell metrics", "work"]);

/** Whatever pushes metrics with a key of its own. */
export const METRIC_SOURCE: Actor = withRights("a source of metrics", ["tell metrics"]);

/** Whoever follows the link of a mail that was sent to a machine's owner. */
const OWNER: Actor = withRights("its owner", ["ask for rounds"]);

/** Who put a job on the queue, by the name that travels with it. Throws a NotAllowedError for a name that nobody has. */
export function actorNamed(name: string): Actor {
  const found = [DEMO_ACTOR, WORKER, OWNER].find((one) => one.name === name);
  if (!found) throw new NotAllowedError(name, "look");
  return found;
}

export class NotAllowedError extends AppError {
  readonly code = "not_allowed";
  constructor(actor: string, right: Right) {
    super(`${actor} may not ${right}.`, { facts: { actor, right } });
  }
}

/** True where an actor has a right on something. */
export function isAllowed(actor: Actor, right: Right, on: Scope): boolean {
  return actor.grants.some((grant) => grant.right === right && reaches(grant.reach, right, on));
}

/**
 * Every use case passes here first, with what it is about. Throws a NotAllowedError. Who may look at a part may look at the
 * estate: lists show that part (`visibleTo`).
 */
export function authorise(actor: Actor, right: Right, on: Scope): void {
  if (!isAllowed(actor, right, on)) throw new NotAllowedError(actor.name, right);
}

function reaches(reach: Reach, right: Right, on: Scope): boolean {
  if (reach === "everything") return true;
  switch (on.kind) {
    case "estate":
      return right === "look";
    case "fleet":
      return reach.fleets.includes(on.fleet);
    case "account":
      return reach.accounts.includes(on.account);
    case "resource":
      return (
        reach.accounts.some((account) => on.id.startsWith(`${account}:`)) ||
        (on.fleet !== null && reach.fleets.includes(on.fleet))
      );
  }
}

/** What somebody sees of lists. */
export type Visible = Readonly<{
  isAll: boolean;
  account: (name: string) => boolean;
  fleet: (fleet: Readonly<{ id: number; name: string }>) => boolean;
  /** `fleet`: the name of the fleet that has it. */
  resource: (resource: Readonly<{ id: string; fleet: string | null }>) => boolean;
}>;

const ALL: Visible = { isAll: true, account: () => true, fleet: () => true, resource: () => true };

/** What an actor may look at, for lists: everything outside is not shown, counted or found. */
export function visibleTo(actor: Actor): Visible {
  const reaching = actor.grants.flatMap(({ right, reach }) => (right === "look" ? [reach] : []));
  if (reaching.includes("everything")) return ALL;
  const sees = (on: Scope) => reaching.some((reach) => reaches(reach, "look", on));
  return {
    isAll: false,
    account: (account) => sees({ kind: "account", account }),
    fleet: ({ id, name }) => sees({ kind: "fleet", fleet: id }) || sees({ kind: "fleet", fleet: name }),
    resource: ({ id, fleet }) => sees({ kind: "resource", id, fleet }),
  };
}
