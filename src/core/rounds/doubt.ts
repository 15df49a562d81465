import { isGuarded } from "../plan";
import type { Selectable } from "../selector";
import type { Instant } from "../time";

/** What was there before, or is listed now, of one resource. */
export type Listing = Selectable & Readonly<{ id: string }>;

/** Why a listing is not believed at once, and what it lacks. */
export type Doubt = Readonly<{
  reason: string;
  missing: readonly string[];
  untagged: readonly string[];
  /** Guards are lost or more than half is gone: a person has to say that it is true. */
  needsPerson: boolean;
}>;

/** A doubt that stands, since a listing was first not believed; `person` has said that it is true. */
export type StandingDoubt = Doubt & Readonly<{ since: Instant; person: string | null }>;

const SHARE = 0.1;
const COUNT = 5;

/**
 * A listing that lacks more than a tenth of what was there and more than five, or in which that many lose
 * tags, is doubted; null where it can be believed.
 */
export function doubtOf(before: readonly Listing[], listed: readonly Listing[]): Doubt | null {
  const now = new Map(listed.map((one) => [one.id, one]));
  const missing: string[] = [];
  const untagged: string[] = [];
  let guardsLost = 0;
  for (const old of before) {
    const found = now.get(old.id);
    if (!found) {
      missing.push(old.id);
      continue;
    }
    if (Object.keys(old.tags).some((key) => found.tags[key] === undefined)) untagged.push(old.id);
    if (isGuarded(old) && !isGuarded(found)) guardsLost++;
  }
  const isMany = (count: number) => count > COUNT && count > before.length * SHARE;
  if (!isMany(missing.length) && !isMany(untagged.length)) return null;
  const parts = [
    isMany(missing.length) ? `it lacks ${missing.length} of ${before.length}` : "",
    isMany(untagged.length) ? `${untagged.length} of ${before.length} lose tags` : "",
    guardsLost > 0 ? `${guardsLost} of them their guard` : "",
  ];
  return {
    reason: parts.filter(Boolean).join(", "),
    missing,
    untagged,
    needsPerson: guardsLost > 0 || missing.length > before.length / 2,
  };
}

/** True where a later listing says what the doubted one said, a round on, and whoever has to has said yes. */
export function isConfirmed(
  standing: StandingDoubt,
  next: Doubt,
  { now, roundEveryS }: { now: Instant; roundEveryS: number },
): boolean {
  if (!isSame(standing, next) || now - standing.since < roundEveryS) return false;
  return !(standing.needsPerson || next.needsPerson) || standing.person !== null;
}

/** True where two listings lack the same. */
export function isSame(one: Doubt, other: Doubt): boolean {
  return sameList(one.missing, other.missing) && sameList(one.untagged, other.untagged);
}

function sameList(one: readonly string[], other: readonly string[]): boolean {
  const known = new Set(one);
  return one.length === other.length && other.every((id) => known.has(id));
}
