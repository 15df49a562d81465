"use client";
import { useMemo } from "react";
import { type PoolForecast, type TriedSpare, tightDays } from "@/core/ready";
import { localTime } from "@/core/time";
import { Chart, type Trace } from "../chart/chart";
import { wallText } from "../chart/wall-text";
import { Button } from "../kit/button";
import { Notice } from "../kit/notice";
import { placeOf } from "../kit/when";
import type { PoolView } from "./use-pool";

export type PoolPictureProps = { view: PoolView; currency: string; spare: number | null; onSpare: (spare: number) => void };

const WEEK_S = 7 * 86_400;

/** The last week of a pool and the next under the draft, and what more or fewer spare machines would have cost and spared. */
export function PoolPicture({ view: { forecast, problem }, currency, spare, onSpare }: PoolPictureProps) {
  const traces = useMemo(() => (forecast ? tracesOf(forecast) : []), [forecast]);
  if (problem) return <Notice kind="error">{problem}</Notice>;
  if (!forecast) return <p className="text-soft">Its sessions are being read…</p>;
  const { zone, tried, suggested, machines, own } = forecast;
  const { tight, days } = tightDays(forecast.past, (t) => localTime(zone, t).day);
  return (
    <div className="flex flex-col gap-2">
      <p data-testid="waits">{waitWords(own)}</p>
      {tight > 0 && (
        <Notice kind="warning">
          On {tight} of {days} days those in use came within one of all that were on: one more, and somebody would have waited.
        </Notice>
      )}
      <Chart
        label={`Last week as it was, next week as it is likely, ${placeOf(zone)}: of ${machines} machines`}
        traces={traces}
        unit="machines"
        now={wallText(zone, forecast.past.firstEnd + (forecast.past.inUse.length - 1) * forecast.past.stepS)}
        height={190}
      />
      <table className="max-w-[640px] text-[13px]">
        <caption className="text-left font-semibold text-[13px]">Spare machines, tried on the weeks before</caption>
        <thead>
          <tr className="border-lines border-b text-left">
            <th className="pr-3 text-right font-semibold">Spare</th>
            <th className="pr-3 text-right font-semibold">{currency} a month</th>
            <th className="pr-3 text-right font-semibold">with nobody there</th>
            <th className="pr-3 font-semibold">Days on which somebody waited</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {tried.map((one) => (
            <Row
              key={one.spare}
              one={one}
              isSuggested={one.spare === suggested}
              isTaken={one.spare === spare}
              onSpare={onSpare}
            />
          ))}
        </tbody>
      </table>
      <p className="text-soft">
        {suggested === null
          ? "With none of these does nobody wait on 95 % of the days."
          : `With ${suggested} spare nobody would have waited on 95 % of the days.`}
      </p>
    </div>
  );
}

function tracesOf({ past, ahead, zone }: PoolForecast): Trace[] {
  const { firstEnd, stepS } = past;
  const count = past.inUse.length;
  const first = Math.max(0, count - WEEK_S / stepS);
  const textAt = (i: number) => wallText(zone, firstEnd + i * stepS);
  const before = past.inUse.slice(first).map((_, i) => textAt(first + i));
  const after = ahead.inUse.map((_, i) => textAt(count + i));
  return [
    { name: "on", x: before, y: past.on.slice(first), colour: "lit" },
    { name: "in use", x: before, y: past.inUse.slice(first), colour: "attention" },
    { name: "wanted", x: after, y: ahead.wanted, colour: "lit", isDashed: true },
    { name: "likely in use", x: after, y: ahead.inUse, colour: "attention", isDashed: true },
  ];
}

type RowProps = { one: TriedSpare; isSuggested: boolean; isTaken: boolean; onSpare: (spare: number) => void };

function Row({ one, isSuggested, isTaken, onSpare }: RowProps) {
  const { days, waited } = daysOf(one);
  const share = days === 0 ? 0 : waited / days;
  return (
    <tr className={`border-lines border-b ${isSuggested ? "font-semibold" : ""}`}>
      <td className="pr-3 text-right">{one.spare}</td>
      <td className="pr-3 text-right">{one.costPerMonth.toFixed(2)}</td>
      <td className="pr-3 text-right">{one.emptyPerMonth.toFixed(2)}</td>
      <td className="pr-3">
        <span className="flex items-center gap-2">
          <span className="h-3 bg-loss" style={{ width: `${Math.round(share * 160)}px` }} aria-hidden />
          {waited} of {days}
          {isSuggested && " ◆ suggested"}
        </span>
      </td>
      <td>
        {isTaken ? (
          <span className="text-soft">in the draft</span>
        ) : (
          <Button look="quiet" className="h-6! px-1!" onClick={() => onSpare(one.spare)} aria-label={`Keep ${one.spare} spare`}>
            take
          </Button>
        )}
      </td>
    </tr>
  );
}

function daysOf({ weeks }: Pick<TriedSpare, "weeks">): { days: number; waited: number } {
  return {
    days: weeks.reduce((sum, one) => sum + one.days, 0),
    waited: weeks.reduce((sum, one) => sum + one.daysWaited, 0),
  };
}

function waitWords(one: PoolForecast["own"]): string {
  if (one.weeks.length === 0) return "No whole week of its sessions is known yet.";
  const { days, waited } = daysOf(one);
  const minutes = one.weeks.reduce((sum, week) => sum + week.waitMinutes, 0);
  if (waited === 0) return `So nobody would have waited for a start on ${days} days.`;
  return `So somebody would have waited for a start on ${waited} of ${days} days, ${Math.round(minutes)} min in all.`;
}
