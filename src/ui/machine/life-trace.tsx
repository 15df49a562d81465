import { useMemo } from "react";
import { columnIn, type Samples } from "@/core/idle";
import type { Instant } from "@/core/time";
import { LifeRow, WIDTH } from "./life-row";

/** How high the row of a metric is drawn. */
export const TRACE = 34;

type Span = Readonly<{ from: Instant; to: Instant }>;

/** The highest value of a metric, as it stands beside its row. */
export function topOf(samples: Samples | null, metric: string): string {
  if (!samples) return "";
  let most = 0;
  for (const value of columnIn(samples, metric, 0)) if (value > most) most = value;
  return most >= 100 ? most.toFixed(0) : String(Number(most.toFixed(1)));
}

const POINTS = 700;

/** One metric over the view: of each stretch of the axis its highest value, so that nothing that happened is lost. */
export function TraceRow({ samples, metric, view }: { samples: Samples | null; metric: string; view: Span }) {
  const path = useMemo(() => (samples ? pathOf(samples, metric, view) : ""), [samples, metric, view]);
  return (
    <LifeRow title={metric} height={TRACE} isLined>
      <path d={path} fill="none" stroke="var(--ink)" strokeWidth={1} vectorEffect="non-scaling-stroke" />
    </LifeRow>
  );
}

function pathOf(samples: Samples, metric: string, view: Span): string {
  const { firstEnd, stepS } = samples.head;
  const column = columnIn(samples, metric, 0);
  let most = 0;
  for (const value of column) if (value > most) most = value;
  if (most === 0) most = 1;
  const slotAt = (t: Instant) => Math.round((t - firstEnd) / stepS);
  const [first, last] = [Math.max(0, slotAt(view.from)), Math.min(column.length - 1, slotAt(view.to))];
  const each = Math.max(1, Math.floor((last - first) / POINTS));
  let path = "";
  let isOpen = false;
  for (let i = first; i <= last; i += each) {
    let highest = Number.NEGATIVE_INFINITY;
    for (let k = i; k < Math.min(i + each, column.length); k++) {
      const value = column[k] as number;
      if (value > highest) highest = value;
    }
    if (highest === Number.NEGATIVE_INFINITY) {
      isOpen = false;
      continue;
    }
    const x = ((firstEnd + i * stepS - view.from) / (view.to - view.from)) * WIDTH;
    path += `${isOpen ? "L" : "M"}${x.toFixed(1)} ${(TRACE - 2 - (highest / most) * (TRACE - 5)).toFixed(1)}`;
    isOpen = true;
  }
  return path;
}
