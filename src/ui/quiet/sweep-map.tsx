"use client";
import { useEffect, useState } from "react";
import type { IdleTrials, SweepPoint } from "@/browser/idle";
import { type Condition, type IdleRule, type SamplesHead, suggested } from "@/core/idle";
import { Button } from "../kit/button";
import { WORD } from "../kit/word-choice";
import { minutesWord, WINDOWS } from "./picture";

export type SweepMapProps = {
  worker: IdleTrials;
  head: SamplesHead;
  rules: readonly IdleRule[];
  /** The rule and its condition, by their places. */
  at: Readonly<{ rule: number; condition: number }>;
  hours: Parameters<IdleTrials["sweep"]>[0]["hours"];
  edges: readonly number[];
  /** What an hour off saves of each machine, in the currency. */
  rates: readonly (number | null)[];
  currency: string;
  onTake: (choice: Pick<Condition, "threshold" | "window">) => void;
};

const SIZE = 8;
const WEEKS_PER_MONTH = 730 / 168;

/** Money against interruptions over thresholds and windows; a cell is pressed to take it. */
export function SweepMap({ worker, head, rules, at, hours, edges, rates, currency, onTake }: SweepMapProps) {
  const [progress, setProgress] = useState<Readonly<{ done: number; of: number }> | null>(null);
  const [swept, setSwept] = useState<Readonly<{ points: readonly SweepPoint[]; weeks: number; key: string }> | null>(null);
  const [allowed, setAllowed] = useState("2");
  const { condition } = at;
  const rule = rules[at.rule] as IdleRule;
  const own = rule.conditions[condition] as Condition;
  const thresholds = thresholdsAround(own.threshold);
  const windows = windowsAround(own.window, head.stepS / 60);
  // Another rule, other hours: what was found is of no use any more.
  const key = JSON.stringify([
    at,
    rules.map((one, r) =>
      r !== at.rule
        ? one
        : {
            ...one,
            conditions: one.conditions.map((each, c) => (c === condition ? { ...each, threshold: 0, window: 0 } : each)),
          },
    ),
    edges,
    rates,
  ]);
  useEffect(() => () => worker.cancelSweep(), [worker]);
  async function start() {
    setProgress({ done: 0, of: head.resources.length });
    const result = await worker
      .sweep({ rules, ...at, thresholds, windows, hours, edges, rates: rates.map((rate) => rate && rate / 3600) }, (done, of) =>
        setProgress({ done, of }),
      )
      .catch(() => null);
    setProgress(null);
    if (result) setSwept({ ...result, key });
  }
  const found = swept && swept.key === key ? swept : null;
  const perWeek = allowed.trim() === "" ? null : Number(allowed);
  const isWrong = perWeek !== null && !(perWeek >= 0);
  const best = found && !isWrong ? suggested(found.points, { weeks: found.weeks, allowed: perWeek, op: own.op }) : null;
  return (
    <section aria-label="Thresholds and windows" className="flex flex-col gap-1.5">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
        {progress ? (
          <>
            <progress max={progress.of} value={progress.done} aria-label="Tried so far" className="h-2 w-[160px]" />
            <span className="text-[13px] text-soft">
              {progress.done} of {progress.of} machines
            </span>
            <Button
              onClick={() => {
                worker.cancelSweep();
                setProgress(null);
              }}
            >
              Cancel
            </Button>
          </>
        ) : (
          <Button onClick={() => void start()}>
            {found ? "Try again" : "Try"} {thresholds.length} thresholds × {windows.length} windows
          </Button>
        )}
        <span>
          At most{" "}
          <input
            aria-label="Interruptions a week at most"
            inputMode="decimal"
            aria-invalid={isWrong || undefined}
            placeholder="any"
            className={`${WORD} min-w-[28px] cursor-text text-right`}
            value={allowed}
            onChange={({ target }) => setAllowed(target.value)}
          />{" "}
          interruptions a week
          {found && best && (
            <>
              :{" "}
              <button
                type="button"
                className="font-semibold text-attention underline underline-offset-2"
                onClick={() => onTake({ threshold: best.threshold, window: best.window })}
              >
                take {own.op} {best.threshold} over {minutesWord(best.window)}
              </button>
            </>
          )}
          {found && !best && ": none of these saves anything within that"}
          {isWrong && <span className="text-loss"> expected a number from 0</span>}
        </span>
      </div>
      {found && <Heat found={found} own={own} best={best} currency={currency} onTake={onTake} />}
    </section>
  );
}

type HeatProps = {
  found: Readonly<{ points: readonly SweepPoint[]; weeks: number }>;
  own: Condition;
  best: Pick<Condition, "threshold" | "window"> | null;
  currency: string;
  onTake: SweepMapProps["onTake"];
};

function Heat({ found, own, best, currency, onTake }: HeatProps) {
  const { points, weeks } = found;
  const thresholds = [...new Set(points.map(({ threshold }) => threshold))];
  const windows = [...new Set(points.map(({ window }) => window))];
  const month = (saved: number) => (weeks > 0 ? (saved / weeks) * WEEKS_PER_MONTH : 0);
  const most = Math.max(1e-9, ...points.map(({ saved }) => saved));
  return (
    <div className="overflow-x-auto">
      <table className="w-full table-fixed border-separate border-spacing-[2px] text-[12px]">
        <caption className="pb-0.5 text-left text-soft">
          {currency} saved a month, and interruptions a week under it; {own.metric} {own.op} down, window across
        </caption>
        <thead>
          <tr>
            <td className="w-[52px]" />
            {windows.map((window) => (
              <th key={window} scope="col" className="font-normal text-soft">
                {minutesWord(window)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {thresholds.map((threshold) => (
            <tr key={threshold}>
              <th scope="row" className="pr-1 text-right font-normal text-soft">
                {threshold}
              </th>
              {windows.map((window) => {
                const point = points.find((one) => one.threshold === threshold && one.window === window);
                if (!point) return <td key={window} />;
                const isBest = best?.threshold === threshold && best.window === window;
                const isOwn = own.threshold === threshold && own.window === window;
                const perWeek = weeks > 0 ? point.interruptions / weeks : 0;
                const share = point.saved / most;
                return (
                  <td key={window} className="p-0">
                    <button
                      type="button"
                      aria-label={`${own.op} ${threshold} over ${minutesWord(window)}: saves ${month(point.saved).toFixed(0)} ${currency} a month, ${perWeek.toFixed(1)} interruptions a week${isBest ? ", suggested" : ""}`}
                      aria-pressed={isOwn}
                      className={`h-[34px] w-full rounded-brick leading-[14px] ${isBest ? "outline-2 outline-attention" : isOwn ? "outline-1 outline-ink" : ""}`}
                      style={{ background: `color-mix(in srgb, var(--saved) ${Math.round(share * 45)}%, var(--raised))` }}
                      onClick={() => onTake({ threshold, window })}
                    >
                      <span className="block font-semibold">{month(point.saved).toFixed(0)}</span>
                      <span className={perWeek > 0 ? "text-loss" : "text-soft"}>
                        {perWeek === 0 ? "none" : perWeek.toFixed(1)}
                      </span>
                    </button>
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** Eight thresholds from a quarter to four times one, it among them; around nothing, small ones. */
function thresholdsAround(own: number): number[] {
  const middle = own > 0 ? own : 1;
  const factors = [0.25, 0.5, 0.75, 1, 1.5, 2, 3, 4];
  return [...new Set(factors.map((factor) => Number((middle * factor).toPrecision(3))))];
}

/** Windows that are whole steps, one's own among them. */
function windowsAround(own: number, stepMinutes: number): number[] {
  const fit = WINDOWS.filter((minutes) => minutes % stepMinutes === 0 && minutes !== own);
  const near = [...fit].sort((a, b) => Math.abs(Math.log(a / own)) - Math.abs(Math.log(b / own))).slice(0, SIZE - 1);
  return [...near, own].filter((minutes) => minutes % stepMinutes === 0).sort((a, b) => a - b);
}
