"use client";
import { useEffect, useState } from "react";
import type { Instant } from "@/core/time";
import { AnswerError, ask } from "../kit/ask";
import { type Reading, useSpeed } from "./clock";

const RATES = [
  { rate: 0, label: "pause" },
  { rate: 1, label: "×1" },
  { rate: 60, label: "×60" },
  { rate: 3600, label: "×3600" },
];

export type DemoControlProps = { reading: Reading; now: Instant; onReading: (reading: Reading) => void };

/** True once something has held for so long that it is worth saying. */
function useLasting(holds: boolean): boolean {
  const [isLong, setIsLong] = useState(false);
  useEffect(() => {
    setIsLong(false);
    if (!holds) return;
    const timer = setTimeout(() => setIsLong(true), STUCK_MS);
    return () => clearTimeout(timer);
  }, [holds]);
  return isLong;
}

const STUCK_MS = 3_000;

/** Moves the demo's clock. Not there where time is real. */
export function DemoControl({ reading, now, onReading }: DemoControlProps) {
  const [error, setError] = useState("");
  const [isBusy, setIsBusy] = useState(false);
  const speed = useSpeed(reading);
  const isBehind = speed !== null && reading.rate > 60 && speed < reading.rate * 0.8;
  const reached = isBehind ? Math.max(10, Math.round(speed / 10) * 10) : null;
  const isStuck = useLasting(reading.rate > 0 && reading.waitAt !== null && now >= reading.waitAt);
  async function move(body: unknown) {
    setIsBusy(true);
    setError("");
    try {
      onReading(await ask<Reading>("/api/clock", { method: "POST", body }));
    } catch (problem) {
      setError(problem instanceof AnswerError ? problem.message : String(problem));
    }
    setIsBusy(false);
  }
  return (
    <fieldset className="flex flex-col gap-1" disabled={isBusy}>
      <legend className="sr-only">Demo clock</legend>
      <div className="flex">
        {RATES.map(({ rate, label }) => (
          <button
            key={rate}
            type="button"
            aria-pressed={reading.rate === rate}
            title={rate > 60 ? "it waits for a round every five minutes of the clock" : undefined}
            onClick={() => move({ kind: "rate", rate })}
            className={`-ml-px h-6 border border-ink/40 px-1.5 text-[12px] first:ml-0 first:rounded-l-brick last:rounded-r-brick ${reading.rate === rate ? "bg-ink font-semibold text-paper" : "bg-raised"}`}
          >
            {label}
            {reached !== null && reading.rate === rate && ` reaches ×${reached}`}
          </button>
        ))}
      </div>
      <button
        type="button"
        onClick={() => move({ kind: "next edge" })}
        className="h-6 rounded-brick border border-ink/40 bg-raised px-1.5 text-[12px] disabled:opacity-55"
      >
        {isBusy ? "moving…" : isStuck ? "waits for its round" : "step to the next edge"}
      </button>
      {error && (
        <p
          role="alert"
          className="absolute top-[108px] right-4 z-20 rounded-brick border border-loss bg-raised px-2 py-1 text-[13px]"
        >
          {error}
        </p>
      )}
    </fieldset>
  );
}
