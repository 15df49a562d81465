import { listedAt, type Resource } from "@/core/plan";
import { claimer } from "@/core/rounds";
import { isThereAt } from "@/core/spend";
import type { Instant } from "@/core/time";
import { livesOf, type Pool } from "@/store";
import { plansInForce, type Snapshot } from "../inventory";

type PoolThen = Readonly<{ all: readonly Resource[]; then: Snapshot; one: Resource; at: Instant }>;

/** What there was at an instant of the pool that a machine belonged to: who counts for its place. Empty where it was in none. */
export async function poolThen(db: Pool, { all, then, one, at }: PoolThen): Promise<readonly Resource[]> {
  const claim = claimer(plansInForce(then));
  const plan = claim(one);
  if (!plan?.pooled) return [];
  const kin = all.map((resource) => listedAt(resource, at)).filter((resource) => claim(resource) === plan);
  const lives = await livesOf(
    db,
    kin.map(({ id }) => id),
    { from: at, to: at + 1 },
  );
  return kin.filter(({ id }) => isThereAt(lives.get(id), at));
}
