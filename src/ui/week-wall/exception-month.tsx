"use client";
import { type KeyboardEvent, memo, useMemo, useRef, useState } from "react";
import { type CompiledSchedule, formatMinute } from "@/core/hours";
import type { RowDraft } from "@/core/plan";
import { dayNumber, formatDate, type Instant, localTime, WEEKDAYS, weekdayIndex } from "@/core/time";
import { Button } from "../kit/button";
import { effectiveDay, onSeconds, USUAL_HOURS } from "./effective-day";

export type ExceptionMonthProps = {
  compiled: CompiledSchedule;
  rows: readonly RowDraft[];
  now: Instant;
  onRows: (rows: readonly RowDraft[]) => void;
};

/** A month of days with how much of each is on; any of them can be made an exception, or go by the week again. */
export const ExceptionMonth = memo(function ExceptionMonth({ compiled, rows, now, onRows }: ExceptionMonthProps) {
  const today = formatDate(localTime(compiled.schedule.zone, now).day);
  const [month, setMonth] = useState(today.slice(0, 7));
  const [chosen, setChosen] = useState<string | null>(null);
  const grid = useRef<HTMLDivElement>(null);
  const days = useMemo(() => {
    const first = dayNumber(`${month}-01`);
    const count = dayNumber(`${shifted(month, 1)}-01`) - first;
    return Array.from({ length: count }, (_, i) => effectiveDay(compiled, first + i));
  }, [compiled, month]);
  const isException = (date: string) => rows.some(({ day }) => day === date);
  const entry = chosen?.startsWith(month) ? chosen : today.startsWith(month) ? today : `${month}-01`;

  const onKey = (event: KeyboardEvent) => {
    const step = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: 7, ArrowUp: -7 }[event.key];
    if (step === undefined) return;
    event.preventDefault();
    const next = formatDate(dayNumber(entry) + step);
    if (!next.startsWith(month)) return;
    setChosen(next);
    grid.current?.querySelector<HTMLElement>(`[data-date="${next}"]`)?.focus();
  };
  const without = (date: string) => rows.filter(({ day }) => day !== date);
  const hoursOf = (date: string): string[] =>
    compiled
      .dayOf(dayNumber(date))
      .filter(({ level }) => level !== null && level > 0)
      .map(({ start, end, level }) => `${formatMinute(start)}-${formatMinute(end)}${level === 1 ? "" : ` x${level}`}`);

  return (
    <section aria-label="Exceptions" className="w-[236px] shrink-0">
      <div className="mb-1 flex items-center justify-between">
        <h3 className="font-semibold text-[13px]">Exceptions, {month}</h3>
        <span className="flex gap-1">
          <Button className="h-6! px-2!" aria-label="A month earlier" onClick={() => setMonth(shifted(month, -1))}>
            ‹
          </Button>
          <Button className="h-6! px-2!" aria-label="A month later" onClick={() => setMonth(shifted(month, 1))}>
            ›
          </Button>
        </span>
      </div>
      <div ref={grid} role="group" aria-label={`The days of ${month}`} onKeyDown={onKey} className="grid grid-cols-7 gap-0.5">
        {Array.from({ length: weekdayIndex(dayNumber(`${month}-01`)) }, (_, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: empty places before the first of the month
          <span key={`before ${i}`} />
        ))}
        {days.map((day) => {
          const date = formatDate(day.day);
          const share = onSeconds(day) / Math.max(1, day.to - day.from);
          const holiday = compiled.isHoliday(day.day);
          return (
            <button
              key={date}
              type="button"
              data-date={date}
              tabIndex={date === entry ? 0 : -1}
              aria-pressed={isException(date)}
              aria-label={`${Number(date.slice(8))}, ${WEEKDAYS[weekdayIndex(day.day)]} ${date}, on ${(onSeconds(day) / 3600).toFixed(1)} hours${holiday ? ", holiday" : ""}${isException(date) ? ", an exception" : ""}`}
              onClick={() => setChosen(date)}
              className={`relative h-[24px] overflow-hidden rounded-[2px] border text-[12px] ${isException(date) ? "border-2 border-attention font-bold" : "border-lines"} ${date === chosen ? "outline outline-ink" : ""}`}
            >
              <span aria-hidden className="absolute inset-x-0 bottom-0 bg-lit/70" style={{ height: `${share * 100}%` }} />
              <span className="relative rounded-[2px] bg-paper/80 px-0.5">
                {Number(date.slice(8))}
                {holiday && (
                  <span aria-hidden className="text-[9px]">
                    ✶
                  </span>
                )}
                {day.hours !== USUAL_HOURS && (
                  <span aria-hidden className="text-[9px]">
                    ◷
                  </span>
                )}
              </span>
            </button>
          );
        })}
      </div>
      {chosen ? (
        <div className="mt-1 flex flex-wrap items-center gap-x-2 text-[13px]">
          <span className="w-full">
            {WEEKDAYS[weekdayIndex(dayNumber(chosen))]} {chosen}: {hoursOf(chosen).join(", ") || "off"}
          </span>
          <Button look="quiet" className="h-6! px-0!" onClick={() => onRows([...without(chosen), { day: chosen, off: true }])}>
            Off that day
          </Button>
          <Button
            look="quiet"
            className="h-6! px-0!"
            onClick={() =>
              onRows([...without(chosen), { day: chosen, spans: hoursOf(chosen).length > 0 ? hoursOf(chosen) : ["08:00-18:00"] }])
            }
          >
            Other hours
          </Button>
          {isException(chosen) && (
            <Button look="quiet" className="h-6! px-0!" onClick={() => onRows(without(chosen))}>
              As the week again
            </Button>
          )}
        </div>
      ) : (
        <p className="mt-1 text-[12px] text-soft">Press a day to make it an exception. ✶ holiday, ◷ the clock changes.</p>
      )}
    </section>
  );
});

function shifted(month: string, by: number): string {
  const [year, number] = month.split("-").map(Number) as [number, number];
  const index = year * 12 + number - 1 + by;
  return `${Math.floor(index / 12)}-${String((index % 12) + 1).padStart(2, "0")}`;
}
