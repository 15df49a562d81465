import { asLevel } from "@/core/hours";
import { type NewOverride, newOverride } from "@/core/rounds";
import { type Instant, MINUTE_S } from "@/core/time";
import { keptStarts, lastSessionEvents, type SessionEvent } from "@/store";
import type { Services } from "../admin";
import type { Snapshot } from "../inventory";
import { type PoolState, poolsOf } from "./reconcile-pools";

/** Who signed in at a machine that was off, as far as a start may still be kept for it. */
export type SignInFacts = Readonly<{ signIns: readonly SessionEvent[]; kept: ReadonlySet<string> }>;

const NONE: SignInFacts = { signIns: [], kept: new Set() };

/** Reads the last sign-ins at machines of pools that are off, and the starts that were kept for some of them already. */
export async function signInFacts({ pool }: Services, { snapshot, now }: PoolState): Promise<SignInFacts> {
  const off = offMachines(snapshot, now);
  if (off.size === 0) return NONE;
  const ids = [...off.keys()];
  const since = now - Math.max(...[...off.values()].map(({ graceS }) => graceS));
  const signIns = [...(await lastSessionEvents(pool, ids, since)).values()].filter(({ type }) => type === "sign-in");
  return signIns.length === 0 ? NONE : { signIns, kept: await keptStarts(pool, ids, since) };
}

/** Starts for whoever signs in at a machine of a pool that is off: a person's start, with the grace of its fleet. Pure. */
export function startsForSignIns({ snapshot, now }: PoolState, { signIns, kept }: SignInFacts): NewOverride[] {
  if (signIns.length === 0) return [];
  const off = offMachines(snapshot, now);
  return signIns.flatMap(({ resourceId, at, note }): NewOverride[] => {
    const own = off.get(resourceId);
    if (!own || at < own.since || at + own.graceS <= now || kept.has(`${resourceId} ${at}`)) return [];
    const reason = note === "" ? "somebody signs in" : `somebody signs in: ${note}`;
    return [newOverride("start", { resourceId, level: asLevel(1), from: at, to: at + own.graceS, reason, person: "its start" })];
  });
}

function offMachines(snapshot: Snapshot, now: Instant): ReadonlyMap<string, Readonly<{ graceS: number; since: Instant }>> {
  return new Map(
    poolsOf(snapshot, now).flatMap(({ plan, members }) =>
      members.flatMap(({ id, level, since }) => (level === 0 ? [[id, { graceS: plan.grace * MINUTE_S, since }] as const] : [])),
    ),
  );
}
