import { divideHalfEven } from "../decimal";
import type { Instant } from "../time";
import { type Commitment, type Coverable, commitmentEdges, countsAt, covers } from "./commitments";
import type { Amount, AmountPerSecond } from "./money";

/** Units that run: a machine, members of a group. */
export type CoverUse = Readonly<{ one: Coverable; level: number }>;

/** All of a unit; a share of it is a whole number of these parts, so that shares are exact. */
export const WHOLE_SHARE = 1n << 64n;

/** What commitments pay for at one instant. */
export type Cover = Readonly<{
  /** Of each run in the order given, the share of its compute that is paid for, of `WHOLE_SHARE`. */
  shares: readonly bigint[];
  /** Of each commitment in the order given, the units that are in use. */
  used: readonly number[];
}>;

/**
 * Shares all commitments among what runs at an instant (docs/model.md, Money: commitments). They
 * count in a fixed order, those of one account before those of any, then by number; each pays for at
 * most its units of what those before it have left open, and shares them by level. So nothing is
 * paid for twice, and what is paid for is never more than what runs. Only those that count then are
 * to be given.
 */
export function coverAt(commitments: readonly Commitment[], runs: readonly CoverUse[]): Cover {
  const classes = coverClasses(commitments);
  const levels: number[] = classes.all.map(() => 0);
  const classOf = runs.map(({ one, level }) => {
    const at = level > 0 ? classes.of(one) : -1;
    while (levels.length < classes.all.length) levels.push(0);
    if (at >= 0) levels[at] = (levels[at] ?? 0) + level;
    return at;
  });
  const { shares, used } = shareOut(commitments, classes.all, { levels, isCounting: () => true });
  return { shares: classOf.map((at) => (at < 0 ? 0n : (shares[at] as bigint))), used };
}

/** Kinds of things that the same commitments cover: at every instant all of one class have one share. */
type CoverClass = readonly boolean[];
type CoverClasses = Readonly<{ all: readonly CoverClass[]; of: (one: Coverable) => number }>;

function coverClasses(commitments: readonly Commitment[]): CoverClasses {
  const all: CoverClass[] = [];
  const byMask = new Map<string, number>();
  const byFields = new Map<string, number>();
  return {
    all,
    of(one) {
      const { provider, account, region, size, purchase } = one.fields;
      const key = `${one.kind}\n${provider}\n${account}\n${region}\n${size}\n${purchase}`;
      const known = byFields.get(key);
      if (known !== undefined) return known;
      const mask = commitments.map((commitment) => covers(commitment, one));
      const name = mask.join();
      const at = mask.includes(true) ? (byMask.get(name) ?? all.length) : -1;
      if (at === all.length) {
        all.push(mask);
        byMask.set(name, at);
      }
      byFields.set(key, at);
      return at;
    },
  };
}

type Using = Readonly<{ levels: readonly number[]; isCounting: (i: number) => boolean }>;

/** The share of each class that is paid for, and the units of each commitment that are in use. */
function shareOut(
  commitments: readonly Commitment[],
  classes: readonly CoverClass[],
  { levels, isCounting }: Using,
): { shares: bigint[]; used: number[] } {
  const open = classes.map(() => WHOLE_SHARE);
  const used = commitments.map(() => 0);
  for (const i of inOrder(commitments)) {
    if (!isCounting(i)) continue;
    let wanted = 0n;
    classes.forEach((mask, c) => {
      if (mask[i]) wanted += (open[c] as bigint) * BigInt(levels[c] ?? 0);
    });
    if (wanted === 0n) continue;
    const units = BigInt(commitments[i]?.units ?? 0) * WHOLE_SHARE;
    const paid = units < wanted ? units : wanted;
    used[i] = Number(divideHalfEven(paid * 1_000_000n, WHOLE_SHARE)) / 1_000_000;
    classes.forEach((mask, c) => {
      if (mask[i]) open[c] = ((open[c] as bigint) * (wanted - paid)) / wanted;
    });
  }
  return { shares: open.map((left) => WHOLE_SHARE - left), used };
}

/** The fixed order in which commitments count, by their place. */
function inOrder(commitments: readonly Commitment[]): number[] {
  const rank = ({ account }: Commitment) => (account === "" ? 1 : 0);
  const at = (i: number) => commitments[i] as Commitment;
  return commitments.map((_, i) => i).sort((a, b) => rank(at(a)) - rank(at(b)) || at(a).id - at(b).id);
}

/** A run at one level and one price; `count` of them run alike (1 unless said). */
export type CoverRun = CoverUse & Readonly<{ from: Instant; to: Instant; perLevel: AmountPerSecond; count?: number }>;

export type CoverOver = Readonly<{
  /** What commitments pay of each run in the order given; of one of them where several run alike. */
  covered: readonly Amount[];
  /** Of each commitment in the order given, the unit-seconds that are in use. */
  usedS: readonly number[];
}>;

/**
 * `coverAt` over `[from, to)`: what commitments pay of each run, every instant by what runs then and
 * by the commitments that count then. Runs outside the span count where they lie in it.
 */
export function coverOver(
  commitments: readonly Commitment[],
  runs: readonly CoverRun[],
  { from, to }: Readonly<{ from: Instant; to: Instant }>,
): CoverOver {
  const classes = coverClasses(commitments);
  const own = runs.map(({ one, level, from: start, to: end }) => {
    const at = level > 0 ? classes.of(one) : -1;
    const [first, last] = [Math.max(from, start), Math.min(to, end)];
    return at >= 0 && first < last ? { at, first, last } : null;
  });
  const usedS = commitments.map(() => 0);
  if (own.every((one) => one === null)) return { covered: runs.map(() => 0n as Amount), usedS };
  const changes = new Map<Instant, { at: number; units: number }[]>([[from, []]]);
  const change = (t: Instant, at: number, units: number) => {
    const known = changes.get(t);
    if (known) known.push({ at, units });
    else changes.set(t, [{ at, units }]);
  };
  own.forEach((one, i) => {
    if (!one) return;
    const { level, count = 1 } = runs[i] as CoverRun;
    change(one.first, one.at, level * count);
    change(one.last, one.at, -level * count);
  });
  for (const edge of commitments.flatMap(commitmentEdges)) if (edge > from && edge < to) change(edge, -1, 0);
  const edges = [...changes.keys()].sort((a, b) => a - b);
  const indexOf = new Map(edges.map((t, i) => [t, i]));
  const levels = classes.all.map(() => 0);
  // The integral of each class's share up to each edge: a run reads its part as a difference.
  const sums = classes.all.map((): bigint[] => [0n]);
  edges.forEach((start, e) => {
    for (const { at, units } of changes.get(start) ?? []) if (at >= 0) levels[at] = (levels[at] as number) + units;
    const end = edges[e + 1];
    if (end === undefined) return;
    const isCounting = (i: number) => countsAt(commitments[i] as Commitment, start);
    const { shares, used } = shareOut(commitments, classes.all, { levels, isCounting });
    used.forEach((units, i) => {
      usedS[i] = (usedS[i] as number) + units * (end - start);
    });
    sums.forEach((sum, c) => {
      sum.push((sum[e] as bigint) + (shares[c] as bigint) * BigInt(end - start));
    });
  });
  const covered = own.map((one, i) => {
    if (!one) return 0n as Amount;
    const { level, perLevel } = runs[i] as CoverRun;
    const sum = sums[one.at] as bigint[];
    const part = (sum[indexOf.get(one.last) as number] as bigint) - (sum[indexOf.get(one.first) as number] as bigint);
    return divideHalfEven(perLevel * BigInt(level) * part, WHOLE_SHARE) as Amount;
  });
  return { covered, usedS };
}

/** What commitments pay a second of a run's compute, by its share. */
export function coveredPerSecond(share: bigint, { perLevel, level }: Readonly<{ perLevel: AmountPerSecond; level: number }>) {
  return divideHalfEven(perLevel * BigInt(level) * share, WHOLE_SHARE) as AmountPerSecond;
}
