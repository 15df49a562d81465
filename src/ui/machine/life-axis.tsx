import { type PointerEvent, useRef, useState } from "react";
import type { Samples } from "@/core/idle";
import { DAY_S, type Instant } from "@/core/time";
import type { MachineDays } from "@/services/cost";
import { dayTimePlace } from "../kit/when";
import { axisOf, COST, CostRow, DueRow, MarkRow, type Span, STRIP, StateRow, TickLabels, Upright } from "./life-rows";
import { TRACE, TraceRow, topOf } from "./life-trace";

/** What is traced of every machine. */
export const METRICS = ["cpu", "network", "disk.ops", "sessions.active"] as const;
const LEFT = 96;

type AxisProps = {
  days: MachineDays;
  samples: Samples | null;
  view: Span;
  zone: string;
  at: Instant | null;
  onZoom: (span: Span) => void;
  onInstant: (t: Instant) => void;
};

const SHORTEST_S = 1800;

/** The rows, one under the other on one axis; dragged they are looked at closer. */
export function Axis({ days, samples, view, zone, at, onZoom, onInstant }: AxisProps) {
  const host = useRef<HTMLDivElement>(null);
  const [from, setFrom] = useState<Instant | null>(null);
  const [pointed, setPointed] = useState<Instant | null>(null);
  const axis = axisOf(view);
  const { x } = axis;
  const timeAt = (event: PointerEvent): Instant => {
    const box = host.current?.getBoundingClientRect();
    const share = box ? Math.min(1, Math.max(0, (event.clientX - box.left) / box.width)) : 0;
    return Math.round(view.from + share * (view.to - view.from));
  };
  const ticks = ticksIn(view);
  const dearest = Math.max(1, ...days.days.map(({ cents }) => cents));
  const marks = days.marks.filter((mark) => mark.at >= view.from && mark.at <= view.to);
  // With those that sources tell of it alone.
  const metrics = samples?.head.metrics ?? METRICS;
  const shown = marks.filter(({ kind }) => kind !== "round" || view.to - view.from < 10 * DAY_S);
  return (
    <div className="flex">
      <div className="shrink-0 text-[12px] text-soft" style={{ width: LEFT }}>
        <Label height={STRIP} words="it was" />
        <Label height={10} words="due" />
        <Label height={18} words="happened" />
        {metrics.map((metric) => (
          <Label key={metric} height={TRACE} words={metric} more={topOf(samples, metric)} />
        ))}
        <Label height={COST} words="cost a day" more={`${(dearest / 100).toFixed(2)} ${days.currency}`} />
      </div>
      <div className="min-w-0 flex-1">
        <div
          ref={host}
          className="relative cursor-crosshair touch-none select-none"
          onPointerDown={(event) => {
            if ((event.target as HTMLElement).closest("button")) return;
            event.currentTarget.setPointerCapture(event.pointerId);
            setFrom(timeAt(event));
          }}
          onPointerMove={(event) => setPointed(timeAt(event))}
          onPointerLeave={() => setPointed(null)}
          onPointerUp={(event) => {
            if (from === null) return;
            const end = timeAt(event);
            setFrom(null);
            const box = host.current?.getBoundingClientRect();
            const moved = box ? (Math.abs(end - from) / (view.to - view.from)) * box.width : 0;
            if (moved < 5) onInstant(end);
            else if (Math.abs(end - from) >= SHORTEST_S) onZoom({ from: Math.min(from, end), to: Math.max(from, end) });
          }}
        >
          <StateRow days={days} axis={axis} />
          <DueRow days={days} axis={axis} />
          <MarkRow marks={shown} axis={axis} zone={zone} until={days.to} onInstant={onInstant} />
          {metrics.map((metric) => (
            <TraceRow key={metric} samples={samples} metric={metric} view={view} />
          ))}
          <CostRow days={days} axis={axis} dearest={dearest} />
          {ticks.map((t) => (
            <Upright key={t} at={t} axis={axis} className="w-px bg-lines/70" />
          ))}
          {pointed !== null && (
            <Upright at={pointed} axis={axis} className="w-px bg-attention">
              <span className="absolute -top-5 left-1 whitespace-nowrap rounded-brick bg-raised px-1 text-[12px]">
                {dayTimePlace(pointed, zone, days.to)}
              </span>
            </Upright>
          )}
          {at !== null && at >= view.from && at <= view.to && <Upright at={at} axis={axis} className="w-[2px] bg-attention" />}
          {from !== null && pointed !== null && (
            <div
              aria-hidden
              className="pointer-events-none absolute inset-y-0 bg-attention/15"
              style={{ left: `${x(Math.min(from, pointed)) / 10}%`, width: `${Math.abs(x(pointed) - x(from)) / 10}%` }}
            />
          )}
        </div>
        <TickLabels ticks={ticks} axis={axis} zone={zone} />
      </div>
    </div>
  );
}

function Label({ height, words, more = "" }: { height: number; words: string; more?: string }) {
  return (
    <div className="flex flex-col justify-center overflow-hidden whitespace-nowrap leading-[14px]" style={{ height }}>
      {words}
      {more && <span className="text-[11px]">to {more}</span>}
    </div>
  );
}

function ticksIn({ from, to }: Span): Instant[] {
  const step = to - from > 3 * DAY_S ? DAY_S : to - from > DAY_S ? 6 * 3600 : 3600;
  const first = Math.ceil(from / step) * step;
  return Array.from({ length: Math.max(0, Math.floor((to - first) / step) + 1) }, (_, i) => first + i * step);
}
