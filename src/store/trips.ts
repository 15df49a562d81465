import type { Instant } from "@/core/time";
import type { Db } from "./pool";

/**
 * For each fleet, its trips of the hour before an instant and the most in any hour of the 28 days before that hour. Those that were
 * held back count in their own hour alone: they are not what a fleet is used to.
 */
export async function tripCounts(db: Db, at: Instant): Promise<Map<string, { ofHour: number; most: number }>> {
  const { rows } = await db.query<{ fleet: string; hour: number; n: number; usual: number }>(
    `select fleet, floor(extract(epoch from to_timestamp($1::double precision) - at) / 3600)::integer as hour, count(*)::integer as n,
       count(*) filter (where not is_held)::integer as usual
     from alarm_change
     where state = 'tripped' and at <= to_timestamp($1::double precision)
       and at > to_timestamp($1::double precision) - interval '28 days 1 hour'
     group by 1, 2`,
    [at],
  );
  const counts = new Map<string, { ofHour: number; most: number }>();
  for (const { fleet, hour, n, usual } of rows) {
    const own = counts.get(fleet) ?? { ofHour: 0, most: 0 };
    counts.set(fleet, hour === 0 ? { ...own, ofHour: n } : { ...own, most: Math.max(own.most, usual) });
  }
  return counts;
}
