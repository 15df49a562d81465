"use client";
import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";
import type { Picture as Shown } from "@/browser/idle";
import type { Condition } from "@/core/idle";
import { dateTime } from "../kit/when";
import type { TripOf } from "./figures";

export type PictureProps = {
  shown: Shown;
  condition: Condition;
  trips: readonly TripOf[];
  zone: string;
  /** Names of the machines, by their place. */
  names: readonly string[];
  /** While it is dragged, many times; once let go, `isDone`. */
  onCondition: (condition: Condition, isDone: boolean) => void;
  onTrip: (trip: TripOf) => void;
};

const WIDTH = 1000;
const HEIGHT = 170;
/** Windows that can be dragged to, in minutes. */
export const WINDOWS = [5, 10, 15, 30, 45, 60, 90, 120, 180, 240, 360, 480, 720, 1440] as const;

/** The metric over the last weeks with the threshold as a line to drag, the window under it, and the trips. */
export function Picture({ shown, condition, trips, zone, names, onCondition, onTrip }: PictureProps) {
  const host = useRef<HTMLDivElement>(null);
  const [dragged, setDragged] = useState<"threshold" | "window" | null>(null);
  const top = useRef(1);
  // The scale stands still while one drags on it.
  if (dragged === null) top.current = niceTop(Math.max(shown.highest, condition.threshold * 1.25, 0.001));
  const from = shown.from;
  const to = shown.from + shown.bins.length * shown.binS;
  const x = (t: number) => ((t - from) / Math.max(1, to - from)) * WIDTH;
  const y = (value: number) => HEIGHT - (Math.min(value, top.current) / top.current) * HEIGHT;
  const valueAt = (event: PointerEvent): number => {
    const box = host.current?.getBoundingClientRect();
    const share = box ? Math.min(1, Math.max(0, 1 - (event.clientY - box.top) / box.height)) : 0;
    return rounded(share * top.current, top.current);
  };
  const move = (event: PointerEvent, isDone: boolean) => {
    if (dragged === "threshold") onCondition({ ...condition, threshold: valueAt(event) }, isDone);
    if (isDone) setDragged(null);
  };
  const onKey = (event: KeyboardEvent) => {
    const step = top.current / 100;
    const by = { ArrowUp: step, ArrowDown: -step, PageUp: 10 * step, PageDown: -10 * step }[event.key];
    if (by === undefined) return;
    event.preventDefault();
    onCondition({ ...condition, threshold: rounded(Math.max(0, condition.threshold + by), top.current) }, true);
  };
  const lineY = y(condition.threshold);
  return (
    <div>
      <div className="flex items-baseline justify-between text-[12px] text-soft">
        <span>
          {condition.metric}, up to {top.current}
        </span>
        <span className="flex gap-3">
          <Key look="h-2 w-4 bg-shade/40" words="5th to 95th percentile" />
          <Key look="h-0.5 w-4 bg-ink" words="median" />
          <Key look="h-3 w-1 bg-saved" words="trip" />
          <Key look="h-3 w-1 bg-loss" words="somebody cut off" />
        </span>
      </div>
      <div
        ref={host}
        className="relative touch-none select-none border-lines border-y"
        style={{ height: HEIGHT }}
        onPointerMove={(event) => move(event, false)}
        onPointerUp={(event) => move(event, true)}
      >
        <svg aria-hidden viewBox={`0 0 ${WIDTH} ${HEIGHT}`} preserveAspectRatio="none" className="absolute inset-0 h-full w-full">
          <title>{condition.metric}</title>
          {days(from, to).map((day) => (
            <line key={day} x1={x(day)} x2={x(day)} y1={0} y2={HEIGHT} stroke="var(--lines)" vectorEffect="non-scaling-stroke" />
          ))}
          {runsOf(shown).map((run) => (
            <g key={run[0]?.at ?? 0}>
              <path d={bandOf(run, x, y)} fill="var(--shade)" fillOpacity={0.4} />
              <path d={lineOf(run, x, y)} fill="none" stroke="var(--ink)" strokeWidth={1.2} vectorEffect="non-scaling-stroke" />
            </g>
          ))}
          {trips.slice(0, MARKS).map(({ trippedAt, backAt, resource, rule }) => (
            <rect
              key={`${resource} ${rule} ${trippedAt}`}
              x={x(trippedAt)}
              width={Math.max(1, x(backAt ?? to) - x(trippedAt))}
              y={HEIGHT - 7}
              height={7}
              fill="var(--saved)"
              opacity={0.45}
            />
          ))}
        </svg>
        <div
          role="slider"
          tabIndex={0}
          aria-label={`Threshold of ${condition.metric}`}
          aria-orientation="vertical"
          aria-valuemin={0}
          aria-valuemax={top.current}
          aria-valuenow={condition.threshold}
          className="absolute inset-x-0 -mt-2 h-4 cursor-ns-resize"
          style={{ top: lineY }}
          onKeyDown={onKey}
          onPointerDown={(event) => {
            event.currentTarget.setPointerCapture(event.pointerId);
            setDragged("threshold");
          }}
        >
          <div className={`absolute inset-x-0 top-[7px] border-attention border-t-2 ${dragged ? "" : "border-dashed"}`} />
          <span className="absolute right-1 -top-3 rounded-brick bg-attention px-1.5 text-[12px] text-on-strong leading-5">
            {condition.op} {condition.threshold}
          </span>
        </div>
        {trips
          .filter(({ interruption }) => interruption)
          .slice(0, MARKS)
          .map((trip) => (
            <button
              key={`${trip.resource} ${trip.rule} ${trip.trippedAt}`}
              type="button"
              title={`${names[trip.resource] ?? ""}, ${dateTime(trip.backAt ?? trip.trippedAt, zone, trip.trippedAt)}: somebody was cut off`}
              aria-label={`Cut off: ${names[trip.resource] ?? ""} at ${dateTime(trip.backAt ?? trip.trippedAt, zone, trip.trippedAt)}`}
              className="-ml-[3px] absolute bottom-0 h-4 w-[6px] bg-loss hover:h-6"
              style={{ left: `${x(trip.backAt ?? trip.trippedAt) / 10}%` }}
              onClick={() => onTrip(trip)}
            />
          ))}
      </div>
      <div className="relative h-5 text-[12px] text-soft">
        {days(from, to)
          .filter((day, i, all) => i % Math.max(1, Math.ceil(all.length / 8)) === 0 && x(day) < WIDTH * 0.93)
          .map((day) => (
            <span key={day} className="absolute whitespace-nowrap" style={{ left: `${x(day) / 10}%` }}>
              {to - from > 3 * 86_400 ? dateTime(day, zone, day).slice(0, -6) : dateTime(day, zone, day)}
            </span>
          ))}
      </div>
      <WindowTrack condition={condition} onCondition={onCondition} />
    </div>
  );
}

/** Of a great many marks the first are drawn; the figures count all. */
const MARKS = 1500;

function Key({ look, words }: { look: string; words: string }) {
  return (
    <span className="flex items-center gap-1">
      <span aria-hidden className={look} />
      {words}
    </span>
  );
}

/** The window as a bar on a scale of its own: minutes on the left, a day on the right. */
function WindowTrack({ condition, onCondition }: Pick<PictureProps, "condition" | "onCondition">) {
  const at = WINDOWS.findLastIndex((minutes) => minutes <= condition.window);
  const set = (i: number, isDone: boolean) => onCondition({ ...condition, window: WINDOWS[i] as number }, isDone);
  return (
    <label className="flex items-center gap-2 text-[12px] text-soft">
      window
      <input
        type="range"
        aria-label={`Window of ${condition.metric}`}
        aria-valuetext={minutesWord(condition.window)}
        min={0}
        max={WINDOWS.length - 1}
        step={1}
        className="flex-1 accent-[var(--attention)]"
        value={Math.max(0, at)}
        onChange={({ target }) => set(Number(target.value), false)}
        onPointerUp={({ currentTarget }) => set(Number(currentTarget.value), true)}
        onKeyUp={({ currentTarget }) => set(Number(currentTarget.value), true)}
      />
      <b className="w-[60px] text-ink">{minutesWord(condition.window)}</b>
    </label>
  );
}

export function minutesWord(minutes: number): string {
  return minutes >= 120 && minutes % 60 === 0 ? `${minutes / 60} h` : `${minutes} min`;
}

type Bin = Readonly<{ at: number; p5: number; p50: number; p95: number }>;

/** Bins that follow each other without a gap. */
function runsOf({ from, binS, bins }: Shown): Bin[][] {
  const runs: Bin[][] = [];
  bins.forEach((bin, i) => {
    if (!bin) return;
    const one = { at: from + (i + 0.5) * binS, ...bin };
    if (i > 0 && bins[i - 1]) runs.at(-1)?.push(one);
    else runs.push([one]);
  });
  return runs;
}

type Scale = (value: number) => number;

function lineOf(run: readonly Bin[], x: Scale, y: Scale): string {
  if (run.length === 1 && run[0]) return `M${x(run[0].at) - 1} ${y(run[0].p50)}h2`;
  return run.map(({ at, p50 }, i) => `${i === 0 ? "M" : "L"}${x(at).toFixed(1)} ${y(p50).toFixed(1)}`).join("");
}

function bandOf(run: readonly Bin[], x: Scale, y: Scale): string {
  const upper = run.map(({ at, p95 }, i) => `${i === 0 ? "M" : "L"}${x(at).toFixed(1)} ${y(p95).toFixed(1)}`).join("");
  const lower = [...run]
    .reverse()
    .map(({ at, p5 }) => `L${x(at).toFixed(1)} ${y(p5).toFixed(1)}`)
    .join("");
  return `${upper}${lower}Z`;
}

const DAY = 86_400;

function days(from: number, to: number): number[] {
  const step = to - from > 3 * DAY ? DAY : to - from > DAY ? 6 * 3600 : 3600;
  const first = Math.ceil(from / step) * step;
  return Array.from({ length: Math.max(0, Math.floor((to - first) / step) + 1) }, (_, i) => first + i * step);
}

function niceTop(highest: number): number {
  const scale = 10 ** Math.floor(Math.log10(highest));
  const share = highest / scale;
  return (share <= 1 ? 1 : share <= 2 ? 2 : share <= 5 ? 5 : 10) * scale;
}

/** As exact as a pixel is. */
function rounded(value: number, top: number): number {
  const digits = Math.max(0, 2 - Math.floor(Math.log10(top)));
  return Number(value.toFixed(Math.min(6, digits)));
}
