import { slotEnd } from "@/core/idle";
import type { Instant } from "@/core/time";
import type { LatestSample } from "@/provider";
import { type RecentSample, saveRecent } from "@/store";
import { type Actor, authorise, ESTATE, type Services } from "../admin";
import { noteLate } from "./lateness";

/** A sample may be dated ahead of our clock by no more than this. */
const AHEAD_S = 120;
/** What is older belongs to days that are over: it is history, and comes by the day. */
const OLDEST_S = 2 * 86_400;

type Incoming = Readonly<{
  samples: readonly LatestSample[];
  now: Instant;
  /** Which of our sources tells them; null where it is the provider. */
  sourceId?: number | null;
  isCatchingUp?: boolean;
}>;

/** True where a sample is neither dated ahead nor of days that are over. */
export function isTimely(at: Instant, now: Instant): boolean {
  return at <= now + AHEAD_S && at > now - OLDEST_S;
}

export type Taken = Readonly<{ taken: number; refused: number }>;

/**
 * The one door by which samples come in, from wherever they are: put into slots, in any order, any number of
 * times. What is no finite number, dated ahead, or older than two days is refused and counted. How late they come is noted,
 * but for what is asked for of a time when nobody asked (`isCatchingUp`).
 */
export async function takeSamples(
  { pool }: Services,
  actor: Actor,
  { samples, now, sourceId = null, isCatchingUp = false }: Incoming,
): Promise<Taken> {
  authorise(actor, "tell metrics", ESTATE);
  const fine = samples.filter(({ at, stepS, value }) => Number.isFinite(value) && stepS > 0 && isTimely(at, now));
  // Mostly they come in order already.
  const isInOrder = fine.every((sample, i) => i === 0 || sample.at >= (fine[i - 1] as LatestSample).at);
  const inOrder = isInOrder ? fine : [...fine].sort((a, b) => a.at - b.at);
  const inSlots = inOrder.map((sample): RecentSample => {
    const at = slotEnd(sample.at, sample.stepS);
    return at === sample.at ? sample : { ...sample, at };
  });
  await saveRecent(pool, inSlots);
  if (!isCatchingUp) await noteLate(pool, inSlots, { sourceId, now });
  return { taken: fine.length, refused: samples.length - fine.length };
}
