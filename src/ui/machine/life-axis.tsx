import { type PointerEvent, useRef, useState } from "react";
import type { Samples } from "@/core/idle";
import { DAY_S, type Instant } from "@/core/time";
import type { LifeMark, MachineDays } from "@/services/cost";
import { dateTime, dayTimePlace } from "../kit/when";
import { TRACE, TraceRow, topOf, WIDTH } from "./life-trace";

/** What is traced of every machine. */
export const METRICS = ["cpu", "network", "disk.ops", "sessions.active"] as const;
const LEFT = 96;
const STRIP = 16;
const COST = 34;

/** How a state is drawn, and what it is called. */
export const STATES = {
  on: { fill: "var(--lit)", y: 0, height: STRIP, words: "on" },
  moving: { fill: "var(--lit-deep)", y: 3, height: STRIP - 6, words: "starting or stopping" },
  hibernated: { fill: "var(--doze)", y: 5, height: 6, words: "hibernated" },
  off: { fill: "var(--shade)", y: 7, height: 2, words: "off" },
  halted: { fill: "var(--loss)", y: 0, height: STRIP, words: "halted" },
} as const;

const MARKS: Readonly<Record<LifeMark["kind"], Readonly<{ sign: string; look: string }>>> = {
  warned: { sign: "◐", look: "text-attention" },
  tripped: { sign: "●", look: "text-saved" },
  "left on": { sign: "✋", look: "text-attention" },
  hold: { sign: "▣", look: "text-ink" },
  "start kept": { sign: "▲", look: "text-ink" },
  round: { sign: "│", look: "text-soft" },
  person: { sign: "┃", look: "text-ink" },
};

export type Span = Readonly<{ from: Instant; to: Instant }>;

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
  const x = (t: Instant) => ((t - view.from) / Math.max(1, view.to - view.from)) * WIDTH;
  const timeAt = (event: PointerEvent): Instant => {
    const box = host.current?.getBoundingClientRect();
    const share = box ? Math.min(1, Math.max(0, (event.clientX - box.left) / box.width)) : 0;
    return Math.round(view.from + share * (view.to - view.from));
  };
  const inView = <S extends Span>(spans: readonly S[]) => spans.filter((span) => span.to > view.from && span.from < view.to);
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
          <svg
            aria-hidden
            viewBox={`0 0 ${WIDTH} ${STRIP}`}
            preserveAspectRatio="none"
            className="block w-full"
            style={{ height: STRIP }}
          >
            <title>what it was</title>
            {inView(days.spans).map(({ from: begin, to, state }) => {
              const { fill, y, height } = STATES[lookOf(state)];
              return <rect key={begin} x={x(begin)} width={Math.max(0.6, x(to) - x(begin))} y={y} height={height} fill={fill} />;
            })}
          </svg>
          <svg aria-hidden viewBox={`0 0 ${WIDTH} 10`} preserveAspectRatio="none" className="block w-full" style={{ height: 10 }}>
            <title>what was due</title>
            {inView(days.due).map(({ from: begin, to, level }) =>
              level === null ? null : (
                <rect
                  key={begin}
                  x={x(begin)}
                  width={Math.max(0.6, x(to) - x(begin))}
                  y={level > 0 ? 2 : 4}
                  height={level > 0 ? 6 : 2}
                  fill={level > 0 ? "var(--attention)" : "var(--shade)"}
                  opacity={0.7}
                />
              ),
            )}
          </svg>
          <div className="relative" style={{ height: 18 }}>
            {shown.map(({ at: t, kind, words }, i) => (
              <button
                // Several things may happen in one second.
                // biome-ignore lint/suspicious/noArrayIndexKey: see above
                key={`${t} ${kind} ${i}`}
                type="button"
                title={`${dayTimePlace(t, zone, days.to)}: ${kind}, ${words}`}
                aria-label={`${kind} at ${dayTimePlace(t, zone, days.to)}: ${words}`}
                className={`-ml-[6px] absolute w-[12px] text-center text-[11px] leading-[18px] ${MARKS[kind].look}`}
                style={{ left: `${x(t) / 10}%` }}
                onClick={() => onInstant(t)}
              >
                {MARKS[kind].sign}
              </button>
            ))}
          </div>
          {metrics.map((metric) => (
            <TraceRow key={metric} samples={samples} metric={metric} view={view} />
          ))}
          <svg
            aria-hidden
            viewBox={`0 0 ${WIDTH} ${COST}`}
            preserveAspectRatio="none"
            className="block w-full border-lines border-t"
            style={{ height: COST }}
          >
            <title>what each day cost</title>
            {days.days.map(({ day, cents }) => {
              const begin = Date.parse(`${day}T00:00:00Z`) / 1000;
              const height = (cents / dearest) * (COST - 3);
              return (
                <rect
                  key={day}
                  x={x(begin) + 1}
                  width={Math.max(1, x(begin + DAY_S) - x(begin) - 2)}
                  y={COST - height}
                  height={height}
                  fill="var(--lit)"
                >
                  <title>{`${day}: ${(cents / 100).toFixed(2)}`}</title>
                </rect>
              );
            })}
          </svg>
          {ticks.map((t) => (
            <div
              key={t}
              aria-hidden
              className="pointer-events-none absolute inset-y-0 w-px bg-lines/70"
              style={{ left: `${x(t) / 10}%` }}
            />
          ))}
          {pointed !== null && (
            <div
              aria-hidden
              className="pointer-events-none absolute inset-y-0 w-px bg-attention"
              style={{ left: `${x(pointed) / 10}%` }}
            >
              <span className="absolute -top-5 left-1 whitespace-nowrap rounded-brick bg-raised px-1 text-[12px]">
                {dayTimePlace(pointed, zone, days.to)}
              </span>
            </div>
          )}
          {at !== null && at >= view.from && at <= view.to && (
            <div
              aria-hidden
              className="pointer-events-none absolute inset-y-0 w-[2px] bg-attention"
              style={{ left: `${x(at) / 10}%` }}
            />
          )}
          {from !== null && pointed !== null && (
            <div
              aria-hidden
              className="pointer-events-none absolute inset-y-0 bg-attention/15"
              style={{ left: `${x(Math.min(from, pointed)) / 10}%`, width: `${Math.abs(x(pointed) - x(from)) / 10}%` }}
            />
          )}
        </div>
        <div className="relative h-4 text-[12px] text-soft">
          {ticks
            .filter((t, i) => i % Math.ceil(ticks.length / 7) === 0 && x(t) < WIDTH * 0.93)
            .map((t) => (
              <span key={t} className="absolute whitespace-nowrap" style={{ left: `${x(t) / 10}%` }}>
                {view.to - view.from > 3 * DAY_S ? dateTime(t, zone, t).slice(0, -6) : dateTime(t, zone, t)}
              </span>
            ))}
        </div>
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

function lookOf(state: MachineDays["spans"][number]["state"]): keyof typeof STATES {
  if (state === "running") return "on";
  if (state === "starting" || state === "stopping") return "moving";
  return state === "hibernated" || state === "halted" ? state : "off";
}

function ticksIn({ from, to }: Span): Instant[] {
  const step = to - from > 3 * DAY_S ? DAY_S : to - from > DAY_S ? 6 * 3600 : 3600;
  const first = Math.ceil(from / step) * step;
  return Array.from({ length: Math.max(0, Math.floor((to - first) / step) + 1) }, (_, i) => first + i * step);
}
