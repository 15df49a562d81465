import { asLevel } from "@/core/hours";
import { type Instant, MINUTE_S } from "@/core/time";
import { keptStarts, lastSessionEvents, type NewStart, type Pool } from "@/store";
import type { StoredWorld } from "../inventory";
import { poolsOf } from "./keep-ready";

/** Starts for whoever signs in at a machine of a pool that is off: a person's start, with the grace of its fleet. */
export async function startsForSignIns(
  pool: Pool,
  { world, now }: Readonly<{ world: StoredWorld; now: Instant }>,
): Promise<NewStart[]> {
  const off = new Map(
    poolsOf(world, now).flatMap(({ plan, members }) =>
      members.flatMap(({ id, level, since }) => (level === 0 ? [[id, { graceS: plan.grace * MINUTE_S, since }] as const] : [])),
    ),
  );
  if (off.size === 0) return [];
  const ids = [...off.keys()];
  const since = now - Math.max(...[...off.values()].map(({ graceS }) => graceS));
  const signIns = [...(await lastSessionEvents(pool, ids, since)).values()].filter(({ type }) => type === "sign-in");
  if (signIns.length === 0) return [];
  const kept = await keptStarts(pool, ids, since);
  return signIns.flatMap(({ resourceId, at, note }): NewStart[] => {
    const own = off.get(resourceId);
    if (!own || at < own.since || at + own.graceS <= now || kept.has(`${resourceId} ${at}`)) return [];
    const reason = note === "" ? "somebody signs in" : `somebody signs in: ${note}`;
    return [{ resourceId, level: asLevel(1), from: at, to: at + own.graceS, reason }];
  });
}
