"use client";
import { useRouter } from "next/navigation";
import { useCallback, useEffect, useState } from "react";
import { ask } from "../kit/ask";
import { Choice } from "../kit/choice";
import { useLive } from "../kit/use-live";
import { clockTime, dayAndTime, dayTimePlace, placeOf } from "../kit/when";
import { type Reading, useTicking } from "./clock";
import { DemoControl } from "./demo-control";

const HOUR = 3600;
const BAR_MAX = 34;

export type Strip = Readonly<{ now: number; from: number; micros: readonly number[]; currency: string }>;
export type TimeStripProps = { reading: Reading; zones: readonly string[] };

/** 48 hours around now: what ran, and what is due to run, as money per hour. */
export function TimeStrip({ reading: first, zones }: TimeStripProps) {
  const router = useRouter();
  const [reading, setReading] = useState(first);
  const [strip, setStrip] = useState<Strip | null>(null);
  const [zone, setZone] = useState(zones[0] ?? "UTC");
  const [pointed, setPointed] = useState<number | null>(null);
  const now = useTicking(reading);
  const hour = Math.floor(now / HOUR);

  const load = useCallback(() => {
    ask<Strip>("/api/strip").then(setStrip, () => {});
  }, []);
  const readClock = useCallback(() => {
    ask<Reading>("/api/clock").then(setReading, () => {});
  }, []);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new hour moves the strip
  useEffect(load, [load, hour]);
  useLive(["round", "fleets"], load, 1000);
  useLive(["clock"], () => {
    readClock();
    router.refresh();
  });

  return (
    <section aria-label="Time" className="flex h-16 items-stretch gap-4 border-lines border-b bg-raised px-4 py-1.5">
      <div className="w-[172px] shrink-0">
        <p className="font-bold text-[17px] leading-6" data-testid="clock">
          {dayAndTime(now, zone)}
        </p>
        <Choice
          label="Shown in"
          isLabelBeside
          className="text-[12px]"
          value={zone}
          onChange={(event) => setZone(event.target.value)}
          options={zones.map((value) => ({ value, label: placeOf(value) }))}
        />
      </div>
      <Bars strip={strip} zone={zone} pointed={pointed} onPoint={setPointed} />
      {reading.isDemo && <DemoControl reading={reading} onReading={setReading} />}
    </section>
  );
}

type BarsProps = { strip: Strip | null; zone: string; pointed: number | null; onPoint: (hour: number | null) => void };

function Bars({ strip, zone, pointed, onPoint }: BarsProps) {
  if (!strip) return <div className="flex-1 self-center text-center text-soft">reading what ran</div>;
  const most = Math.max(1, ...strip.micros);
  const nowAt = Math.floor((strip.now - strip.from) / HOUR);
  const money = (micros: number) => (micros / 1e6).toFixed(2);
  const sentence =
    pointed === null
      ? `All in, disks of what is off too: ${money(strip.micros[nowAt] ?? 0)} ${strip.currency} this hour; ${money(strip.micros[nowAt + 12] ?? 0)} in twelve hours if plans are kept`
      : `${dayTimePlace(strip.from + pointed * HOUR, zone)}: ${money(strip.micros[pointed] ?? 0)} ${strip.currency} ${pointed < nowAt ? "ran" : "due to run"}`;
  return (
    <figure className="relative min-w-0 flex-1" aria-label={`Money per hour, 24 hours back and 24 ahead. ${sentence}`}>
      <div className="flex h-[36px] items-end gap-px" onPointerLeave={() => onPoint(null)}>
        {strip.micros.map((micros, i) => (
          <div
            // biome-ignore lint/suspicious/noArrayIndexKey: the hours of a strip are a fixed row
            key={i}
            onPointerEnter={() => onPoint(i)}
            className={`flex h-full flex-1 items-end ${i === nowAt ? "border-attention border-l-2" : ""}`}
          >
            <div
              className={`w-full rounded-t-[1px] ${i < nowAt ? "bg-lit" : "border border-lit-deep border-b-0 bg-lit/40"} ${pointed === i ? "outline outline-ink" : ""}`}
              style={{ height: Math.max(1, Math.round((micros / most) * BAR_MAX)) }}
            />
          </div>
        ))}
      </div>
      <figcaption className="flex justify-between text-[12px] text-soft leading-4">
        <span>{clockTime(strip.from, zone)} yesterday</span>
        <span className="text-ink">{sentence}</span>
        <span>{clockTime(strip.from + 48 * HOUR, zone)} tomorrow</span>
      </figcaption>
    </figure>
  );
}
