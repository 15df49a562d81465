import { isSchedulable } from "@/core/plan";
import type { Instant } from "@/core/time";
import { type Actor, type Services, visibleTo } from "../admin";
import { type SnapshotAt, snapshotAt } from "./as-of";

/**
 * The snapshot as of an instant, as far as an actor may see it: what lists are made of. The plans stay whole, since what a
 * machine belongs to does not hang on who looks; lists of fleets leave out those that are not to be seen.
 */
export async function snapshotFor(services: Services, actor: Actor, at: Instant | null): Promise<SnapshotAt> {
  const snapshot = await snapshotAt(services, at);
  const visible = visibleTo(actor);
  if (visible.isAll) return snapshot;
  const resources = snapshot.resources.filter(visible.resource);
  return {
    ...snapshot,
    accounts: snapshot.accounts.filter(({ name }) => visible.account(name)),
    resources,
    schedulable: resources.filter(isSchedulable),
  };
}
