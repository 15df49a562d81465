import { type SizeSeen, type SpotPast, sizesSeen } from "@/core/mix";
import { isRunningState, listedAt, type Resource } from "@/core/plan";
import { DAY_S, type Instant } from "@/core/time";
import { type Db, evictionsOf, fullInventory, livesOf, spotAnswers } from "@/store";

/** How long back evictions and prices are looked at. */
export const SEEN_DAYS = 28;

/** What was seen of the sizes that a provider has in a region, over the weeks before an instant; all as things were listed then. */
export async function observedInRegion(
  db: Db,
  { provider, region }: Readonly<{ provider: string; region: string }>,
  at: Instant,
): Promise<ReadonlyMap<string, SizeSeen>> {
  // What was taken back is gone, and counts.
  const kin = (await fullInventory(db)).filter(
    ({ fields }) => fields.provider === provider && fields.region === region && fields.purchase === "spot",
  );
  const span = { from: at - SEEN_DAYS * DAY_S, to: at };
  const spot = new Map(kin.map((resource) => [resource.id, resource]));
  const [evictions, lives, answers] = await Promise.all([
    evictionsOf(db, [...spot.keys()], span),
    livesOf(db, [...spot.keys()], span),
    spotAnswers(db, span),
  ]);
  const placeAt = (id: string, when: Instant) => {
    const { size = "", zone = "" } = listedAt(spot.get(id) as Resource, when).fields;
    return { size, zone };
  };
  const turns: SpotPast["turns"][number][] = [];
  for (const [id, life] of lives) {
    for (const { from, to, state, level } of life) {
      const begin = Math.max(from, span.from);
      if (!isRunningState(state) || begin >= to) continue;
      const place = placeAt(id, begin);
      turns.push({ ...place, at: begin, by: level }, { ...place, at: to, by: -level });
    }
  }
  const gone = evictions.map(({ resourceId, at: when }) => ({ ...placeAt(resourceId, when), at: when }));
  return sizesSeen({ turns, gone, answers }, at);
}
