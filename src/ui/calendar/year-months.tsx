"use client";
import { type KeyboardEvent, useRef, useState } from "react";
import { dayNumber, formatDate, WEEKDAYS, type Weekday, weekdayIndex } from "@/core/time";

export type YearMonthsProps = {
  year: number;
  rest: readonly Weekday[];
  /** Holidays, by date, with their names. */
  days: Readonly<Record<string, string>>;
  today: string;
  onDay: (date: string) => void;
};

const MONTHS = [
  "January",
  "February",
  "March",
  "April",
  "May",
  "June",
  "July",
  "August",
  "September",
  "October",
  "November",
  "December",
];

/** The twelve months of a year. A press makes a day a holiday or takes it back; arrow keys move from day to day. */
export function YearMonths({ year, rest, days, today, onDay }: YearMonthsProps) {
  const box = useRef<HTMLDivElement>(null);
  const [focused, setFocused] = useState<string | null>(null);
  const entry = focused?.startsWith(String(year)) ? focused : today.startsWith(String(year)) ? today : `${year}-01-01`;
  const onKey = (event: KeyboardEvent) => {
    const step = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: 7, ArrowUp: -7 }[event.key];
    if (step === undefined) return;
    event.preventDefault();
    const next = formatDate(dayNumber(entry) + step);
    if (!next.startsWith(String(year))) return;
    setFocused(next);
    box.current?.querySelector<HTMLElement>(`[data-date="${next}"]`)?.focus();
  };
  return (
    <div ref={box} role="group" aria-label={`The days of ${year}`} className="grid grid-cols-4 gap-x-5 gap-y-3" onKeyDown={onKey}>
      {MONTHS.map((name, month) => {
        const first = dayNumber(`${year}-${String(month + 1).padStart(2, "0")}-01`);
        const next = dayNumber(month === 11 ? `${year + 1}-01-01` : `${year}-${String(month + 2).padStart(2, "0")}-01`);
        return (
          <section key={name} aria-label={`${name} ${year}`}>
            <h3 className="font-semibold text-[13px]">{name}</h3>
            <div className="grid grid-cols-7 gap-px">
              {WEEKDAYS.map((day) => (
                <span key={day} aria-hidden className="text-center text-[11px] text-soft">
                  {day.slice(0, 2)}
                </span>
              ))}
              {Array.from({ length: weekdayIndex(first) }, (_, i) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: empty places before the first of the month
                <span key={`before ${i}`} />
              ))}
              {Array.from({ length: next - first }, (_, i) => formatDate(first + i)).map((date) => {
                const weekday = WEEKDAYS[weekdayIndex(dayNumber(date))] as Weekday;
                const isHoliday = date in days;
                const isRest = rest.includes(weekday);
                const said = isHoliday ? `holiday${days[date] ? `, ${days[date]}` : ""}` : isRest ? "rest day" : "workday";
                return (
                  <button
                    key={date}
                    type="button"
                    data-date={date}
                    tabIndex={date === entry ? 0 : -1}
                    aria-pressed={isHoliday}
                    aria-label={`${Number(date.slice(8))}, ${weekday} ${date}, ${said}`}
                    title={days[date] || undefined}
                    onFocus={() => setFocused(date)}
                    onClick={() => onDay(date)}
                    className={`h-[22px] rounded-[2px] text-[12px] ${isHoliday ? "bg-ink font-bold text-paper" : isRest ? "bg-shade/45" : "hover:bg-lit/40"} ${date === today ? "outline outline-attention" : ""}`}
                  >
                    {Number(date.slice(8))}
                    {isHoliday && <span aria-hidden>✶</span>}
                  </button>
                );
              })}
            </div>
          </section>
        );
      })}
    </div>
  );
}
