import { lastOf, type PricePoint, type PriceTrack, pointOf } from "@/core/pricing";
import type { Instant } from "@/core/time";
import { priceBooks } from "@/store";
import { type Actor, authorise, ESTATE, RefusedError, type Services } from "../../admin";
import { beganAt, bySource } from "./view";

/** Some lines of a price's history, newest first, and whether there are older ones. */
export type PriceLines = Readonly<{ lines: readonly PricePoint[]; isMore: boolean }>;

export type PriceLinesQuery = Readonly<{ key: string; before: Instant | null }>;

const LINES = 60;

/** What was said of one price, those before an instant, newest first, page by page. Throws a RefusedError where there is none, or `before` is no instant. */
export async function priceLines(services: Services, actor: Actor, { key, before }: PriceLinesQuery): Promise<PriceLines> {
  authorise(actor, "look", ESTATE);
  if (before !== null && !Number.isFinite(before)) throw new RefusedError("invalid", "Before what? Expected seconds since 1970.");
  const told = bySource(await priceBooks(services.pool)).get(key);
  if (!told) throw new RefusedError("not_found", "There is no such line in the price book.");
  const newest = [told.hand, told.provider].flatMap((track) => (track ? newestOf(track, before) : []));
  newest.sort((a, b) => b.validFrom - a.validFrom || (a.source === "hand" ? -1 : 1));
  // Two at one instant are not parted: the next page begins before it.
  let end = Math.min(LINES, newest.length);
  while (end < newest.length && newest[end]?.validFrom === newest[end - 1]?.validFrom) end++;
  return { lines: newest.slice(0, end), isMore: end < newest.length };
}

function newestOf(track: PriceTrack, before: Instant | null): PricePoint[] {
  const points: PricePoint[] = [];
  let i = before === null ? track.from.length - 1 : lastOf(track.from, before);
  if (i >= 0 && track.from[i] === before) i--;
  for (; i >= 0 && points.length <= LINES + 1; i--) {
    i = beganAt(track, i);
    points.push(pointOf(track, i));
  }
  return points;
}
