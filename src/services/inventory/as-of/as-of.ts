import { isSchedulable, tryDraftToPlan } from "@/core/plan";
import { type Instant, MINUTE_S } from "@/core/time";
import {
  cache,
  dataVersionKey,
  hoursBookAt,
  likelyUseList,
  orderAt,
  overridesBetween,
  type Pool,
  plansAt,
  readDataVersions,
  type StoredOverride,
  type StoredResource,
  tagged,
  tagOf,
} from "@/store";
import type { Services } from "../../admin";
import { loadSnapshot, type Snapshot } from "../snapshot";
import { asTheyWillBe } from "./ahead";
import type { AsOf, Tense } from "./due";
import { asTheyWere } from "./past";

/**
 * The snapshot as of an instant: now as it was last read and decided; in the past as it was told and
 * listed, by the plans, schedules and calendars of then; ahead as it will be if plans are kept and
 * all else stays.
 */
export type SnapshotAt = Snapshot &
  Readonly<{
    now: Instant;
    at: Instant;
    tense: Tense;
    /** In effect at `at`, the last placed first. */
    holds: readonly StoredOverride[];
  }>;

export async function snapshotAt(services: Services, asked: Instant | null): Promise<SnapshotAt> {
  const [{ now }, snapshot] = await Promise.all([services.clock.read(), loadSnapshot(services)]);
  const at = asked ?? now;
  const tense: Tense = asked === null || asked === now ? "now" : asked < now ? "past" : "ahead";
  const holds = await overridesBetween(services.pool, { from: at, to: at + 1 });
  if (tense === "now") return { ...snapshot, now, at, tense, holds };
  const planned = tense === "past" ? await withPlansAt(services.pool, snapshot, at) : snapshot;
  const ahead = tense === "ahead" ? await overridesBetween(services.pool, { from: now, to: at + 1 }) : holds;
  const resources = await keptInventory(services, { snapshot: planned, at, now, tense, holds: ahead });
  return { ...planned, now, at, tense, holds, resources, schedulable: resources.filter(isSchedulable) };
}

type Kept = Readonly<{ key: string; inventory: Promise<readonly StoredResource[]> }>;

/** Another instant is asked for by several parts of a page at once, and page by page: its answer is kept while nothing it rests on changes. */
async function keptInventory({ pool }: Services, asOf: AsOf): Promise<readonly StoredResource[]> {
  const { snapshot, at, now, tense } = asOf;
  const versions = await readDataVersions(pool);
  // What is due ahead is taken to turn from now on: now, to the minute, is part of the answer.
  const turns = tense === "ahead" ? Math.floor(now / MINUTE_S) : 0;
  // What was read of the clouds may be older than the counters by now: it says itself of when it is.
  const read = tagOf(snapshot.resources)?.version ?? null;
  const key = `${tense} ${at} ${turns} ${read} ${dataVersionKey(versions, ["changes", "plans", "holds"])}`;
  const kept = cache<Pool, Kept>("as of");
  const known = kept.get(pool);
  if (read !== null && known?.key === key) return known.inventory;
  const made = tense === "past" ? asTheyWere(pool, asOf) : Promise.resolve(asTheyWillBe(asOf));
  const inventory = made.then((resources) => tagged(resources, key));
  kept.set(pool, { key, inventory });
  inventory.catch(() => kept.delete(pool));
  return inventory;
}

/** The plans, schedules and calendars that counted at an instant in place of today's. */
export async function withPlansAt(pool: Pool, snapshot: Snapshot, at: Instant): Promise<Snapshot> {
  const [plans, book, order, likely] = await Promise.all([
    plansAt(pool, at),
    hoursBookAt(pool, at),
    orderAt(pool, at),
    likelyUseList(pool, at),
  ]);
  return {
    ...snapshot,
    ...book,
    likely,
    fleets: inOrder(snapshot.fleets, order).map((fleet) => {
      const then = plans.get(fleet.id);
      const plan = then ? tryDraftToPlan(then.draft) : null;
      // A fleet goes by the name it has now, whatever it was called then.
      return { ...fleet, inForce: plan?.success ? { ...plan.data, name: fleet.name } : null };
    }),
  };
}

/** The fleets as they were ranked; those that came later, by their rank of now. */
function inOrder(fleets: Snapshot["fleets"], order: readonly number[] | null): Snapshot["fleets"] {
  if (order === null) return fleets;
  const places = new Map(order.map((id, i) => [id, i]));
  const placeOf = ({ id }: Snapshot["fleets"][number]) => places.get(id) ?? order.length;
  return fleets
    .map((fleet, i) => ({ fleet, i }))
    .sort((a, b) => placeOf(a.fleet) - placeOf(b.fleet) || a.i - b.i)
    .map(({ fleet }, i) => ({ ...fleet, rank: i + 1 }));
}
