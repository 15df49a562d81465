import { DAY_S, type Instant, tryParseDate } from "../time";
import { divideHalfEven } from "./decimal";
import { type Amount, type AmountPerSecond, perSecondOfHourly, tryParseHourRate } from "./money";

/** Capacity that is paid for whatever happens: `units` machines of one size in one region (docs/model.md, Money: commitments). */
export type Commitment = Readonly<{
  id: number;
  provider: string;
  /** Empty: of any account. */
  account: string;
  region: string;
  size: string;
  units: number;
  /** A decimal in the book's currency, for all units together, per hour. */
  feePerHour: string;
  /** The first and the last UTC day it counts, `YYYY-MM-DD`. */
  fromDay: string;
  toDay: string;
}>;

/** Something that may be covered: firm machines and groups of a size; services have no size to commit to. */
export type Coverable = Readonly<{ kind: string; fields: Readonly<Record<string, string>> }>;

export function covers(commitment: Commitment, { kind, fields }: Coverable): boolean {
  return (
    fields.size === commitment.size &&
    (kind === "machine" || kind === "group") &&
    fields.purchase === "firm" &&
    fields.provider === commitment.provider &&
    fields.region === commitment.region &&
    (commitment.account === "" || fields.account === commitment.account)
  );
}

export function countsAt({ fromDay, toDay }: Commitment, t: Instant): boolean {
  return t >= startOf(fromDay) && t < startOf(toDay) + DAY_S;
}

function startOf(day: string): Instant {
  const number = tryParseDate(day);
  if (number === null) throw new Error(`a commitment's day is checked when it is read: ${day}`);
  return number * DAY_S;
}

export function feePerSecond({ feePerHour }: Commitment): AmountPerSecond {
  const rate = tryParseHourRate(feePerHour);
  if (rate === null) throw new Error(`a commitment's fee is checked when it is read: ${feePerHour}`);
  return perSecondOfHourly(rate);
}

/** `min(wanted, covered) x rate` of each of several that share the cover, by their share of what is wanted; whole amounts, the rest to the last. */
export function coverEach(wanted: readonly Readonly<{ units: number; compute: Amount }>[], covered: number): readonly Amount[] {
  const units = wanted.reduce((sum, one) => sum + one.units, 0);
  if (units <= covered) return wanted.map(({ compute }) => compute);
  return wanted.map(({ compute }) => divideHalfEven(compute * BigInt(covered), BigInt(units)) as Amount);
}

/** A stretch with so many units. */
export type UnitStretch = Readonly<{ from: Instant; to: Instant; level: number }>;

/** Unit-seconds of the stretches that lie under a cover of `covered` units: the integral of `min(covered, u(t))`. */
export function coveredUnitSeconds(stretches: readonly UnitStretch[], covered: number): number {
  if (covered <= 0) return 0;
  const steps = stretches
    .flatMap(({ from, to, level }) => [
      { at: from, change: level },
      { at: to, change: -level },
    ])
    .sort((a, b) => a.at - b.at);
  let sum = 0;
  let units = 0;
  let since = steps[0]?.at ?? 0;
  for (const { at, change } of steps) {
    sum += Math.min(covered, units) * (at - since);
    units += change;
    since = at;
  }
  return sum;
}
