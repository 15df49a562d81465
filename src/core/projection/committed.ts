import { expand, type Interval, type Level } from "../hours";
import { type Amount, type AmountPerSecond, coveredUnitSeconds, NO_AMOUNT, type UnitStretch } from "../pricing";
import { MONTH_S } from "../time";
import type { HoursLever, HoursProjection, Projected, Window } from "./hours-lever";

/** What of a commitment is left for some machines: units that nobody else uses, and what each would cost without it. */
export type CommittedUnits = Readonly<{ units: number; perLevel: AmountPerSecond; ids: ReadonlySet<string> }>;
export type LeveredLine = Readonly<{ projected: Projected; lever: HoursLever | null }>;

/** A projection with what commitments pay for taken off, and the part of the saving that is lost to them. */
export type NetProjection = HoursProjection & Readonly<{ swallowed: Amount }>;

/**
 * Nets a projection of commitments (docs/model.md, Money: commitments): what lies under the cover is
 * paid for whatever happens, so hours taken off there save nothing. Both what ran and what the hours
 * would have let run are laid under the cover over the past window.
 */
export function netOfCommitments(
  projection: HoursProjection,
  lines: readonly LeveredLine[],
  { commitments, past }: { commitments: readonly CommittedUnits[]; past: Window },
): NetProjection {
  let alwaysOn = 0n;
  let ran = 0n;
  let planned = 0n;
  for (const { units, perLevel, ids } of commitments) {
    const own = lines.filter(({ projected }) => ids.has(projected.id));
    if (own.length === 0 || units <= 0) continue;
    const monthly = (stretches: readonly UnitStretch[]) => {
      const seconds = (coveredUnitSeconds(stretches, units) * MONTH_S) / (past.to - past.from);
      return BigInt(Math.round(seconds)) * perLevel;
    };
    alwaysOn += monthly([{ ...past, level: own.reduce((sum, { projected }) => sum + highest(projected), 0) }]);
    ran += monthly(own.flatMap(({ projected }) => clipped(projected, past)));
    planned += monthly(plannedStretches(own, past));
  }
  const net = (amount: Amount, cover: bigint) => (amount - cover) as Amount;
  return {
    alwaysOn: net(projection.alwaysOn, alwaysOn),
    asItRan: net(projection.asItRan, ran),
    projected: net(projection.projected, planned),
    savesOnAlwaysOn: (projection.savesOnAlwaysOn - (alwaysOn - planned)) as Amount,
    savesOnAsItRan: (projection.savesOnAsItRan - (ran - planned)) as Amount,
    swallowed: ran > planned ? ((ran - planned) as Amount) : NO_AMOUNT,
  };
}

function highest({ kind, runs }: Projected): number {
  return kind === "machine" ? 1 : Math.max(1, ...runs.map(({ level }) => level));
}

function clipped({ runs }: Projected, { from, to }: Window): UnitStretch[] {
  return runs.flatMap((run) => {
    const start = Math.max(from, run.from);
    const end = Math.min(to, run.to);
    return start < end ? [{ from: start, to: end, level: run.level }] : [];
  });
}

/** What would have run: the hours' level; what ran where they say leave, and for machines that are left; never more than ran where starts are by hand. */
function plannedStretches(lines: readonly LeveredLine[], past: Window): UnitStretch[] {
  const stretches: UnitStretch[] = [];
  const alike = new Map<HoursLever, number>();
  // Worked out once for each lever, not for each machine: this runs at every brick that is painted.
  const known = new Map<HoursLever, readonly Interval[]>();
  const hoursOf = (lever: HoursLever) => {
    const hours = known.get(lever) ?? expand(lever.schedule, past.from, past.to);
    known.set(lever, hours);
    return hours;
  };
  const hasLeave = (lever: HoursLever) => hoursOf(lever).some(({ level }) => level === null);
  for (const { projected, lever } of lines) {
    if (!lever || projected.isLeft) stretches.push(...clipped(projected, past));
    else if (lever.starts === "hand" || projected.kind !== "machine" || hasLeave(lever))
      stretches.push(...laid(projected, { hours: hoursOf(lever), past, isCapped: lever.starts === "hand" }));
    else alike.set(lever, (alike.get(lever) ?? 0) + 1);
  }
  // Machines on the same hours run together: one stretch for all of them.
  for (const [lever, count] of alike) {
    for (const { from, to, level } of hoursOf(lever)) {
      if (level) stretches.push({ from, to, level: Math.min(1, level) * count });
    }
  }
  return stretches;
}

function laid(
  projected: Projected,
  { hours, past, isCapped }: { hours: readonly Interval[]; past: Window; isCapped: boolean },
): UnitStretch[] {
  const ran = clipped(projected, past);
  const most = projected.kind === "machine" ? 1 : projected.levelMax;
  return hours.flatMap(({ from, to, level }): UnitStretch[] => {
    const within = ran.flatMap((run) => {
      const start = Math.max(from, run.from);
      const end = Math.min(to, run.to);
      return start < end ? [{ from: start, to: end, level: run.level }] : [];
    });
    if (level === null) return within;
    const wanted = Math.min(level, most) as Level;
    return isCapped ? within.map((run) => ({ ...run, level: Math.min(run.level, wanted) })) : [{ from, to, level: wanted }];
  });
}
