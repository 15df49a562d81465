import { isGuarded } from "../plan";
import type { Selectable } from "../selector";
import type { Instant } from "../time";

/** What was there before, or is listed now, of one resource. */
export type Listing = Selectable & Readonly<{ id: string }>;

/** Why a listing is not believed at once, and what it lacks. */
export type Doubt = Readonly<{
  /** How many were there before. */
  of: number;
  missing: readonly string[];
  untagged: readonly string[];
  /** How many were guarded and are not any more. */
  guardsLost: number;
  /** Guards are lost or more than half is gone: a person has to say that it is true. */
  needsPerson: boolean;
}>;

/** A doubt that stands, since a listing was first not believed; `person` has said that it is true. */
export type StandingDoubt = Doubt & Readonly<{ since: Instant; person: string | null }>;

/** What a doubted listing lacks, in numbers. */
export type Lack = Readonly<{ of: number; missing: number; untagged: number; guardsLost: number }>;

export function lackOf({ of, missing, untagged, guardsLost }: Doubt): Lack {
  return { of, missing: missing.length, untagged: untagged.length, guardsLost };
}

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
  const of = before.length;
  if (!isMany(missing.length, of) && !isMany(untagged.length, of)) return null;
  return {
    of,
    missing,
    untagged,
    guardsLost,
    needsPerson: guardsLost > 0 || missing.length > before.length / 2,
  };
}

/** True where so many of all are more than come and go unnoticed. */
export function isMany(count: number, of: number): boolean {
  return count > COUNT && count > of * SHARE;
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
