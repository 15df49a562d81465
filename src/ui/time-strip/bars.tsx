"use client";
import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";
import type { Instant } from "@/core/time";
import type { TimeStrip } from "@/services/cost";
import { clockTime, dayTimePlace } from "../kit/when";

const HOUR = 3600;
const DAY = 86_400;
/** A drag stops at every fifth minute: finer than anybody aims. */
const SNAP = 300;
const BAR_MAX = 30;

export type BarsProps = {
  strip: TimeStrip | null;
  now: Instant;
  zones: readonly string[];
  at: Instant | null;
  onAt: (at: Instant) => void;
};

/** The hours as bars, what is marked on them, and the handle that is dragged to another instant. */
export function Bars({ strip, now, zones, at, onAt }: BarsProps) {
  const host = useRef<HTMLDivElement>(null);
  const [pointed, setPointed] = useState<number | null>(null);
  const [dragged, setDragged] = useState<Instant | null>(null);
  if (!strip) return <div className="flex-1 self-center text-center text-soft">reading what ran</div>;
  const { from, micros, currency, marks } = strip;
  const zone = zones[0] ?? "UTC";
  const span = micros.length * HOUR;
  const most = Math.max(1, ...micros);
  const nowAt = Math.floor((now - from) / HOUR);
  const money = (i: number) => ((micros[i] ?? 0) / 1e6).toFixed(2);
  const percent = (t: Instant) => `${(Math.min(1, Math.max(0, (t - from) / span)) * 100).toFixed(3)}%`;

  const instantUnder = (event: PointerEvent) => {
    const box = (host.current as HTMLDivElement).getBoundingClientRect();
    const part = Math.min(1, Math.max(0, (event.clientX - box.left) / box.width));
    return Math.round((from + part * span) / SNAP) * SNAP;
  };
  const onMove = (event: PointerEvent) => {
    const under = instantUnder(event);
    setPointed(Math.min(micros.length - 1, Math.floor((under - from) / HOUR)));
    if (dragged !== null) setDragged(under);
  };
  const onKey = (event: KeyboardEvent) => {
    const steps: Record<string, number> = { ArrowLeft: -HOUR, ArrowRight: HOUR, PageUp: -DAY, PageDown: DAY };
    const step = steps[event.key];
    if (step === undefined) return;
    event.preventDefault();
    onAt((at ?? Math.floor(now / SNAP) * SNAP) + step);
  };

  const handle = dragged ?? at;
  const marked = marks.filter(
    (mark) => pointed !== null && mark.from < from + (pointed + 1) * HOUR && mark.to > from + pointed * HOUR,
  );
  const said = () => {
    if (dragged !== null) return `as of ${dayTimePlace(dragged, zone)}`;
    if (pointed === null) {
      return nowAt >= 0 && nowAt < micros.length
        ? `All in, disks of what is off too: ${money(nowAt)} ${currency} this hour; ${money(nowAt + 12)} in twelve hours if plans are kept`
        : "Money per hour, disks of what is off too";
    }
    const hour = `${dayTimePlace(from + pointed * HOUR, zone)}: ${money(pointed)} ${currency} ${pointed < nowAt ? "ran" : "due to run"}`;
    return [hour, ...marked.map(({ what }) => what)].join("; ");
  };
  return (
    <figure
      className="relative min-w-0 flex-1 max-lg:order-last max-lg:basis-full"
      aria-label={`Money per hour, 24 hours back and 24 ahead. ${said()}`}
    >
      <div
        ref={host}
        role="slider"
        tabIndex={0}
        aria-label="As of"
        aria-valuemin={from}
        aria-valuemax={from + span}
        aria-valuenow={Math.min(from + span, Math.max(from, handle ?? now))}
        aria-valuetext={`${handle === null ? "now, " : ""}${dayTimePlace(handle ?? now, zone)}`}
        className="relative flex h-[32px] cursor-ew-resize touch-none items-end gap-px"
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          setDragged(instantUnder(event));
        }}
        onPointerMove={onMove}
        onPointerUp={() => {
          if (dragged !== null) onAt(dragged);
          setDragged(null);
        }}
        onPointerCancel={() => setDragged(null)}
        onPointerLeave={() => setPointed(null)}
        onKeyDown={onKey}
      >
        {micros.map((amount, i) => (
          <div
            // biome-ignore lint/suspicious/noArrayIndexKey: the hours of a strip are a fixed row
            key={i}
            className={`w-full flex-1 rounded-t-[1px] ${i < nowAt ? "bg-lit" : "border border-lit-deep border-b-0 bg-lit/40"} ${pointed === i ? "outline outline-ink" : ""}`}
            style={{ height: Math.max(1, Math.round((amount / most) * BAR_MAX)) }}
          />
        ))}
        {marks.map((mark) => (
          <div
            key={`${mark.kind} ${mark.from} ${mark.what}`}
            data-mark={mark.kind}
            title={mark.what}
            className={`pointer-events-none absolute top-0 h-[5px] ${mark.kind === "hold" ? "bg-attention" : "hatched border border-doze"}`}
            style={{ left: percent(mark.from), width: `calc(${percent(mark.to)} - ${percent(mark.from)})` }}
          />
        ))}
        {now >= from && now <= from + span && (
          <div className="pointer-events-none absolute top-0 h-full w-[2px] bg-ink" style={{ left: percent(now) }} />
        )}
        {handle !== null && (
          <div
            data-testid="handle"
            className="pointer-events-none absolute top-[-4px] h-[40px] w-[4px] rounded-brick bg-attention"
            style={{ left: `calc(${percent(handle)} - 2px)` }}
          />
        )}
      </div>
      <figcaption className="text-[12px] text-soft leading-[12px]">
        <Ends from={from} span={span} zone={zone}>
          {said()}
        </Ends>
        {zones[1] && <Ends from={from} span={span} zone={zones[1]} />}
      </figcaption>
    </figure>
  );
}

function Ends({ from, span, zone, children }: { from: Instant; span: number; zone: string; children?: React.ReactNode }) {
  return (
    <span className="flex justify-between gap-2 whitespace-nowrap">
      <span>{clockTime(from, zone)}</span>
      <span className="truncate text-ink">{children}</span>
      <span>{clockTime(from + span, zone)}</span>
    </span>
  );
}
