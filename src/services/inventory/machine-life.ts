import { hasLife, type Resource } from "@/core/plan";
import { type Run, runsOf, zoneOf } from "@/core/rounds";
import type { Instant } from "@/core/time";
import { type ActionLine, accountList, changesOf, fullInventory, type Pool, searchActions } from "@/store";
import { type Actor, authorise, ESTATE, RefusedError, type Services } from "../admin";
import { capabilitiesByAccount } from "./snapshot";

/** A run, with the actions that began and ended it as the action list has them. */
export type LifeRun = Run<ActionLine>;

type LifeQuery = Readonly<{
  id: string;
  /** Only what began before it, where a page goes on; null: up to now. */
  before: Instant | null;
  /** Words that a run's reasons, people, rounds or states have to hold. */
  text: string;
}>;

export type MachineLife = Readonly<{
  resource: Resource;
  now: Instant;
  zone: string;
  /** The last first. */
  runs: readonly LifeRun[];
  /** Where an older page goes on; null where this is all since it was first seen. */
  older: Instant | null;
  /** When it was first told of on this page. */
  from: Instant | null;
}>;

/** Changes of a page: a month of a desk's has some two hundred. */
const PAGE = 2_000;

/** The runs of one machine, each from its start to its stop with who, which round and why. Throws a RefusedError where there is no such machine. */
export async function machineLife(services: Services, actor: Actor, query: LifeQuery): Promise<MachineLife> {
  authorise(actor, "look", ESTATE);
  const { pool } = services;
  const [{ now }, all, accounts] = await Promise.all([services.clock.read(), fullInventory(pool), accountList(pool)]);
  const resource = all.find((candidate) => candidate.id === query.id);
  if (!resource || !hasLife(resource)) throw new RefusedError("not_found", `There is no machine ${query.id}.`);
  const life = await runsBefore(pool, { id: query.id, before: query.before ?? now, limit: PAGE });
  const words = query.text.toLowerCase().split(/\s+/).filter(Boolean);
  const runs = words.length === 0 ? life.runs : life.runs.filter((run) => words.every((word) => textOf(run).includes(word)));
  return { ...life, runs, resource, now, zone: zoneOf(resource, capabilitiesByAccount(accounts)) ?? "UTC" };
}

type Before = Readonly<{ id: string; before: Instant; limit: number }>;

/** The runs that changes before an instant tell of, the last first; as many changes as `limit` are looked at. */
export async function runsBefore(
  pool: Pool,
  { id, before, limit }: Before,
): Promise<Pick<MachineLife, "runs" | "older" | "from">> {
  const last = await changesOf(pool, id, { before, limit: limit + 1 });
  const isAll = last.length <= limit;
  const changes = last.slice(0, limit).reverse();
  const from = changes[0]?.at ?? null;
  const asked = { resourceId: id, text: "", status: "", to: null, before: null, limit };
  const actions = await searchActions(pool, { ...asked, from: from === null ? null : from - ACTED_WITHIN_S });
  const runs = [...runsOf(changes, actions.reverse())].reverse();
  if (isAll || runs.length < 2) return { runs, older: null, from };
  // The oldest may have begun before this page: the next one tells it whole.
  const whole = runs.slice(0, -1);
  return { runs: whole, older: (runs.at(-1)?.to ?? from ?? before) as Instant, from: whole.at(-1)?.from ?? from };
}

/** An action ends within so long of being recorded. */
const ACTED_WITHIN_S = 3 * 3600;

function textOf({ began, ended, endState }: LifeRun): string {
  return [began, ended]
    .flatMap((cause) =>
      cause ? [cause.told, cause.action?.why, cause.action?.askedBy, cause.action && `round ${cause.action.roundId}`] : [],
    )
    .concat(endState ?? "runs")
    .filter(Boolean)
    .join(" ")
    .toLowerCase();
}
