import { cutByHabit, HABIT_WEEKS, type TripSpan } from "@/core/idle";
import { DAY_S, type Instant } from "@/core/time";
import { firstTrips, livesOf, type Pool, tripSpans } from "@/store";

/** When idle alarms had some machines off over `[from, to)`, as far as they would have gone on; by machine. */
export async function tripsOf(
  pool: Pool,
  { ids, from, to }: Readonly<{ ids: readonly string[]; from: Instant; to: Instant }>,
): Promise<ReadonlyMap<string, readonly TripSpan[]>> {
  const trips = await tripSpans(pool, { ids, from, to });
  if (trips.size === 0) return trips;
  const tripped = [...trips.keys()];
  const firsts = await firstTrips(pool, tripped);
  const all = [...firsts.values()];
  const before = { from: Math.min(...all) - HABIT_WEEKS * 7 * DAY_S, to: Math.max(...all) };
  const lives = await livesOf(pool, tripped, before);
  return new Map(
    [...trips].map(([id, own]) => {
      const first = firsts.get(id);
      return [id, first === undefined ? own : cutByHabit(own, { life: lives.get(id) ?? [], first })];
    }),
  );
}
