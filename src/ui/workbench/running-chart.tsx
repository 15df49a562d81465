"use client";
import { useMemo } from "react";
import { type CompiledSchedule, expand, type Interval, type Level } from "@/core/hours";
import { type Line, levelByHour } from "@/core/projection";
import { HOUR_S, type Instant } from "@/core/time";
import { Chart } from "../chart/chart";
import { wallText } from "../chart/wall-text";
import { placeOf } from "../kit/when";

const HOURS = 7 * 24;

export type RunningChartProps = { compiled: CompiledSchedule; projected: readonly Line[]; now: Instant };

/** How many ran in each hour of the last week, and how many are due to in the coming one. */
export function RunningChart({ compiled, projected, now }: RunningChartProps) {
  const { zone } = compiled.schedule;
  const thisHour = Math.floor(now / HOUR_S) * HOUR_S;
  const { ran, due } = useMemo(() => {
    const past = thisHour - HOURS * HOUR_S;
    const ranLevels = levelByHour(
      projected.flatMap(({ ran }) => ran?.runs ?? []),
      { from: past, hours: HOURS },
    );
    const intervalsOf = new Map<number, readonly Interval[]>();
    const ofSize = (size: Level) => {
      const known = intervalsOf.get(size) ?? expand(compiled, thisHour, thisHour + HOURS * HOUR_S, size);
      intervalsOf.set(size, known);
      return known;
    };
    const dueLevels = levelByHour(
      projected.flatMap(({ kind, levelMax, ownSize, isLeft }) =>
        isLeft
          ? []
          : ofSize(ownSize).map((interval) => ({
              ...interval,
              level: interval.level && Math.min(interval.level, kind === "machine" ? 1 : levelMax),
            })),
      ),
      { from: thisHour, hours: HOURS },
    );
    const times = (from: Instant) => Array.from({ length: HOURS }, (_, hour) => wallText(zone, from + hour * HOUR_S));
    return { ran: { x: times(past), y: ranLevels }, due: { x: times(thisHour), y: dueLevels } };
  }, [projected, compiled, thisHour, zone]);
  const traces = useMemo(
    () => [
      { name: "ran", ...ran, colour: "lit-deep" },
      { name: "due", ...due, colour: "attention", isDashed: true },
    ],
    [ran, due],
  );
  if (projected.length === 0) return null;
  return (
    <div>
      <h3 className="mt-2 font-semibold text-[13px]">Last week as it ran, next week as it is due, {placeOf(zone)}</h3>
      <Chart
        label="Running in each hour of the last week, and due in each of the next"
        traces={traces}
        unit="running"
        now={wallText(zone, now)}
      />
    </div>
  );
}
