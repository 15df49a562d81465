"use client";
import { useRouter } from "next/navigation";
import { type PointerEvent, useCallback, useEffect, useMemo, useRef, useState } from "react";
import { columnIn, type Samples, unpackSamples } from "@/core/idle";
import { DAY_S, formatInstant, type Instant } from "@/core/time";
import type { LifeMark, MachineDays } from "@/services";
import { AnswerError, ask } from "../kit/ask";
import { Button } from "../kit/button";
import { useLive } from "../kit/use-live";
import { dateTime, dayTimePlace } from "../kit/when";

const METRICS = ["cpu", "network", "disk.ops", "sessions.active"] as const;
const WIDTH = 1000;
const LEFT = 96;
const STRIP = 16;
const TRACE = 34;
const COST = 34;

const STATES = {
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

type Span = Readonly<{ from: Instant; to: Instant }>;

/** Four weeks of a machine on one axis: what it was over what was due, what happened, its metrics, its cost per day. Drag to zoom. */
export function LifeDays({ id, zone, at }: { id: string; zone: string; at: Instant | null }) {
  const router = useRouter();
  const [days, setDays] = useState<MachineDays | null>(null);
  const [samples, setSamples] = useState<Samples | null>(null);
  const [problem, setProblem] = useState("");
  const [zoom, setZoom] = useState<Span | null>(null);
  const path = `/api/machines/${encodeURIComponent(id)}/days`;
  const load = useCallback(async () => {
    try {
      setDays(await ask<MachineDays>(path));
    } catch (error) {
      setProblem(error instanceof AnswerError ? error.message : String(error));
    }
  }, [path]);
  useEffect(() => void load(), [load]);
  useLive(["round", "holds"], () => void load(), 2_000);
  useEffect(() => {
    const left = new AbortController();
    const query = new URLSearchParams([["machine", id], ...METRICS.map((metric) => ["metric", metric])]);
    fetch(`/api/idle/samples?${query}`, { signal: left.signal })
      .then(async (response) => {
        if (response.ok) setSamples(unpackSamples(await response.arrayBuffer()));
      })
      .catch(() => {});
    return () => left.abort();
  }, [id]);
  if (!days) return <p className="mb-3 h-[260px] text-soft">{problem || "Reading its last four weeks…"}</p>;
  const view = zoom ?? { from: days.from, to: days.to };
  return (
    <figure aria-label="Its last four weeks" className="mb-4 min-w-0">
      <Axis
        days={days}
        samples={samples}
        view={view}
        zone={zone}
        at={at}
        onZoom={setZoom}
        onInstant={(t) => router.push(`/machines/${encodeURIComponent(id)}?at=${formatInstant(t)}`)}
      />
      <figcaption className="flex flex-wrap items-center gap-x-4 gap-y-0.5 pt-1 text-[12px] text-soft">
        {Object.entries(STATES).map(([key, { fill, words }]) => (
          <span key={key} className="flex items-center gap-1">
            <span aria-hidden className="inline-block h-2.5 w-3" style={{ background: fill }} />
            {words}
          </span>
        ))}
        <span>
          <span aria-hidden>◐ </span>warned <span aria-hidden>● </span>tripped <span aria-hidden>▣ </span>hold{" "}
          <span aria-hidden>▲ </span>started by a person
        </span>
        {zoom ? (
          <Button look="quiet" className="h-[22px]! text-[12px]" onClick={() => setZoom(null)}>
            All four weeks
          </Button>
        ) : (
          <span>Drag to look closer; press an instant for its reasons.</span>
        )}
      </figcaption>
    </figure>
  );
}

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

function Axis({ days, samples, view, zone, at, onZoom, onInstant }: AxisProps) {
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
  const shown = marks.filter(({ kind }) => kind !== "round" || view.to - view.from < 10 * DAY_S);
  return (
    <div className="flex">
      <div className="shrink-0 text-[12px] text-soft" style={{ width: LEFT }}>
        <Label height={STRIP} words="it was" />
        <Label height={10} words="due" />
        <Label height={18} words="happened" />
        {METRICS.map((metric) => (
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
          {METRICS.map((metric) => (
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

function topOf(samples: Samples | null, metric: string): string {
  if (!samples) return "";
  let most = 0;
  for (const value of columnIn(samples, metric, 0)) if (value > most) most = value;
  return most >= 100 ? most.toFixed(0) : String(Number(most.toFixed(1)));
}

const POINTS = 700;

/** One metric over the view: of each stretch of the axis its highest value, so that nothing that happened is lost. */
function TraceRow({ samples, metric, view }: { samples: Samples | null; metric: string; view: Span }) {
  const path = useMemo(() => (samples ? pathOf(samples, metric, view) : ""), [samples, metric, view]);
  return (
    <svg
      aria-hidden
      viewBox={`0 0 ${WIDTH} ${TRACE}`}
      preserveAspectRatio="none"
      className="block w-full border-lines border-t"
      style={{ height: TRACE }}
    >
      <title>{metric}</title>
      <path d={path} fill="none" stroke="var(--ink)" strokeWidth={1} vectorEffect="non-scaling-stroke" />
    </svg>
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

function ticksIn({ from, to }: Span): Instant[] {
  const step = to - from > 3 * DAY_S ? DAY_S : to - from > DAY_S ? 6 * 3600 : 3600;
  const first = Math.ceil(from / step) * step;
  return Array.from({ length: Math.max(0, Math.floor((to - first) / step) + 1) }, (_, i) => first + i * step);
}
