"use client";
import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";
import { WordNumber } from "../kit/word-number";

export type DividedBarProps = Readonly<{ firm: number; most: number; onFirm: (firm: number) => void }>;

/** Firm and spot capacity as one bar of bricks; its divide is dragged, or moved with the arrows. */
export function DividedBar({ firm, most, onFirm }: DividedBarProps) {
  const host = useRef<HTMLDivElement>(null);
  const [dragged, setDragged] = useState<number | null>(null);
  const shown = dragged ?? firm;
  const share = most === 0 ? 0 : (100 * shown) / most;
  const at = ({ clientX }: PointerEvent): number => {
    const box = host.current?.getBoundingClientRect();
    return box ? Math.max(0, Math.min(most, Math.round(((clientX - box.left) / box.width) * most))) : firm;
  };
  const onKey = (event: KeyboardEvent) => {
    const tenth = Math.max(1, Math.round(most / 10));
    const to = { ArrowLeft: firm - 1, ArrowRight: firm + 1, PageUp: firm + tenth, PageDown: firm - tenth, Home: 0, End: most }[
      event.key
    ];
    if (to === undefined) return;
    event.preventDefault();
    onFirm(Math.max(0, Math.min(most, to)));
  };
  return (
    <div>
      <div
        ref={host}
        className="relative h-8 touch-none select-none rounded-brick border border-ink/40 bg-raised"
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          setDragged(at(event));
        }}
        onPointerMove={(event) => dragged !== null && setDragged(at(event))}
        onPointerUp={(event) => {
          if (dragged === null) return;
          setDragged(null);
          onFirm(at(event));
        }}
      >
        <div aria-hidden className="absolute inset-y-0 left-0 bg-lit" style={{ width: `${share}%` }} />
        <div
          aria-hidden
          className="absolute inset-y-0 right-0"
          style={{
            width: `${100 - share}%`,
            backgroundImage: "repeating-linear-gradient(135deg, var(--lit) 0 2px, transparent 2px 8px)",
          }}
        />
        <div
          role="slider"
          tabIndex={0}
          aria-label="Firm units"
          aria-valuemin={0}
          aria-valuemax={most}
          aria-valuenow={shown}
          aria-valuetext={`${shown} firm, ${most - shown} spot`}
          className="-ml-2 absolute inset-y-[-4px] w-4 cursor-ew-resize"
          style={{ left: `${share}%` }}
          onKeyDown={onKey}
        >
          <div className="absolute inset-y-0 left-[6px] w-1 rounded-brick bg-ink" />
        </div>
      </div>
      <p className="flex flex-wrap items-baseline justify-between gap-x-3 text-[13px]">
        <span>
          <WordNumber label="Firm units, as a number" value={shown} max={most} onNumber={onFirm} /> firm, or{" "}
          <FirmShare firm={shown} most={most} onFirm={onFirm} /> %: always there, full price
        </span>
        <span>
          <b>{most - shown}</b> spot: cheaper, may be evicted
        </span>
      </p>
    </div>
  );
}

/** How much is firm as a share; what was typed stays as it was typed for as long as it is what it came to. */
function FirmShare({ firm, most, onFirm }: DividedBarProps) {
  const [typed, setTyped] = useState({ percent: 0, firm: -1 });
  return (
    <WordNumber
      label="Per cent of the units that are firm"
      title="Of the most that are wanted; what is not whole is rounded up"
      value={typed.firm === firm ? typed.percent : Math.round((100 * firm) / Math.max(1, most))}
      max={100}
      onNumber={(percent) => {
        const units = Math.ceil((percent * most) / 100);
        setTyped({ percent, firm: units });
        onFirm(units);
      }}
    />
  );
}
