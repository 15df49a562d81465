import { DAY_S, type Instant, tryParseDate } from "../time";
import { type AmountPerSecond, perSecondOfHourly, tryParseHourRate } from "./money";

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

/** What may be covered: firm machines of a size, in groups or not; services have no size to commit to. */
export type Coverable = Readonly<{ kind: string; fields: Readonly<Record<string, string>> }>;

const COVERED_KINDS = new Set(["machine", "group", "member"]);

export function covers(commitment: Commitment, { kind, fields }: Coverable): boolean {
  return (
    fields.size === commitment.size &&
    COVERED_KINDS.has(kind) &&
    fields.purchase === "firm" &&
    fields.provider === commitment.provider &&
    fields.region === commitment.region &&
    (commitment.account === "" || fields.account === commitment.account)
  );
}

/** True for what any of some commitments covers. */
export function coveredByAny(commitments: readonly Commitment[], one: Coverable): boolean {
  return commitments.some((commitment) => covers(commitment, one));
}

export function countsAt(commitment: Commitment, t: Instant): boolean {
  const [from, to] = commitmentEdges(commitment);
  return t >= from && t < to;
}

/** The instants at which a commitment begins and ends. */
export function commitmentEdges({ fromDay, toDay }: Commitment): readonly [Instant, Instant] {
  return [startOf(fromDay), startOf(toDay) + DAY_S];
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
