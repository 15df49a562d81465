import { columnIn } from "@/core/idle";
import { isGuarded, type Pooled } from "@/core/plan";
import { addInUse, type PoolHistory } from "@/core/ready";
import { type Actor, authorise, ESTATE, type Services } from "../admin";
import { samplesOver, TRIED_DAYS } from "../idle";
import { loadSnapshot } from "../inventory";
import { SESSION_METRICS } from "./reconcile-pools";

export type PoolHistoryQuery = Readonly<{
  /** Machines by id; those that a guard forbids, and ids of nothing, are left out. */
  ids: readonly string[];
  waits: Pick<Pooled, "disconnectWait" | "signOffWait">;
}>;

/** How many of some machines were in use, slot by slot, over the last four weeks. Throws a RefusedError where that is too much at once. */
export async function poolHistory(services: Services, actor: Actor, { ids, waits }: PoolHistoryQuery): Promise<PoolHistory> {
  authorise(actor, "look", ESTATE);
  const [{ now }, snapshot] = await Promise.all([services.clock.read(), loadSnapshot(services)]);
  const asked = new Set(ids);
  const members = snapshot.schedulable.filter((one) => asked.has(one.id) && one.kind === "machine" && !isGuarded(one));
  const samples = await samplesOver(services, members, { metrics: SESSION_METRICS, now, days: TRIED_DAYS });
  const { stepS, firstEnd, knownFrom, count } = samples.head;
  const inUse = new Float64Array(count);
  members.forEach((_, i) => {
    const of = (metric: string) => columnIn(samples, metric, i);
    addInUse(inUse, { active: of(SESSION_METRICS[0]), disconnected: of(SESSION_METRICS[1]) }, { waits, stepS });
  });
  return { firstEnd, slotS: stepS, knownFrom, inUse: [...inUse] };
}
