"use client";
import { type KeyboardEvent, memo, useMemo, useRef, useState } from "react";
import { type CompiledSchedule, ON, type SaidInterval } from "@/core/hours";
import { formatDate, type Instant, localTime, WEEKDAYS, weekdayIndex } from "@/core/time";
import { Button } from "../kit/button";
import { levelWord } from "../kit/level-word";
import { clockTime, placeOf } from "../kit/when";
import { type EffectiveDay, effectiveDay, USUAL_HOURS } from "./effective-day";
import { levelColour } from "./geometry";

export type EffectiveWeekProps = { compiled: CompiledSchedule; now: Instant; most: number; zones: readonly string[] };

/** Hours shorter than this have no room for words in their brick. */
const WORDS_S = 4.5 * 3600;

/** Seven days as the rows make them: holidays, hours over midnight and clock changes included. Each brick says why. */
export const EffectiveWeek = memo(function EffectiveWeek({ compiled, now, most, zones }: EffectiveWeekProps) {
  const { zone } = compiled.schedule;
  const [weeks, setWeeks] = useState(0);
  const [at, setAt] = useState({ day: 0, brick: 0 });
  const [pointed, setPointed] = useState<SaidInterval | null>(null);
  const grid = useRef<HTMLDivElement>(null);
  const today = localTime(zone, now).day;
  const monday = today - weekdayIndex(today) + 7 * weeks;
  const days = useMemo(() => Array.from({ length: 7 }, (_, i) => effectiveDay(compiled, monday + i)), [compiled, monday]);
  const hours = Math.max(USUAL_HOURS, ...days.map((day) => day.hours));

  const onKey = (event: KeyboardEvent) => {
    const step = { ArrowRight: [0, 1], ArrowLeft: [0, -1], ArrowDown: [1, 0], ArrowUp: [-1, 0] }[event.key];
    if (!step) return;
    event.preventDefault();
    const day = Math.max(0, Math.min(6, at.day + (step[0] as number)));
    const count = days[day]?.intervals.length ?? 1;
    const brick = Math.max(0, Math.min(count - 1, at.brick + (step[1] as number)));
    setAt({ day, brick });
    grid.current?.querySelector<HTMLElement>(`[data-day="${day}"][data-brick="${brick}"]`)?.focus();
  };

  return (
    <section aria-label="The week as it comes out" className="min-w-[300px] flex-1 max-sm:basis-full">
      <div className="mb-1 flex items-center gap-2">
        <h3 className="font-semibold text-[13px]">
          {weeks === 0 ? "This week as it comes out" : `The week of ${formatDate(monday)} as it comes out`}
        </h3>
        <Button className="h-6! px-2!" aria-label="A week earlier" onClick={() => setWeeks(weeks - 1)}>
          ‹
        </Button>
        <Button className="h-6! px-2!" aria-label="A week later" onClick={() => setWeeks(weeks + 1)}>
          ›
        </Button>
        {weeks !== 0 && (
          <Button look="quiet" className="h-6! px-1!" onClick={() => setWeeks(0)}>
            this week
          </Button>
        )}
      </div>
      <div ref={grid} role="grid" tabIndex={-1} aria-label="Effective week" onKeyDown={onKey} className="flex flex-col gap-0.5">
        {days.map((day, dayIndex) => (
          <div key={day.day} role="row" aria-label={formatDate(day.day)} className="flex items-center gap-2">
            <span role="rowheader" className={`w-[104px] shrink-0 text-[13px] ${day.day === today ? "font-bold" : ""}`}>
              {WEEKDAYS[weekdayIndex(day.day)]} {formatDate(day.day).slice(8)}
              {compiled.isHoliday(day.day) && <span title="holiday"> ✶</span>}
              {day.hours !== USUAL_HOURS && <span className="text-attention"> {day.hours} h</span>}
            </span>
            <div className="h-[16px] flex-1">
              <div
                className="flex h-full overflow-hidden rounded-brick border border-lines"
                style={{ width: `${(day.hours / hours) * 100}%` }}
              >
                {day.intervals.map((interval, brick) => (
                  <div
                    key={interval.from}
                    className="relative flex items-center justify-center overflow-hidden"
                    style={{ width: `${((interval.to - interval.from) / (day.to - day.from)) * 100}%` }}
                  >
                    <div
                      role="gridcell"
                      data-day={dayIndex}
                      data-brick={brick}
                      tabIndex={at.day === dayIndex && at.brick === brick ? 0 : -1}
                      aria-label={sentenceOf(day, interval, { zone, zones })}
                      onFocus={() => {
                        setAt({ day: dayIndex, brick });
                        setPointed(interval);
                      }}
                      onPointerEnter={() => setPointed(interval)}
                      className={`absolute inset-0 outline-offset-[-2px] hover:brightness-95 ${interval.level === null ? "bg-[repeating-linear-gradient(90deg,var(--lines)_0_2px,transparent_2px_6px)]" : ""}`}
                      style={interval.level === null ? undefined : { background: levelColour(interval.level, most) }}
                    />
                    {interval.level !== 0 && interval.to - interval.from >= WORDS_S && (
                      <span
                        aria-hidden
                        className="pointer-events-none relative whitespace-nowrap rounded-[2px] bg-paper/85 px-1 text-[11px] leading-[13px]"
                      >
                        {spanText(interval, zone)}
                        {interval.level === null
                          ? " left"
                          : interval.level > 1 && interval.level !== ON
                            ? ` ×${interval.level}`
                            : ""}
                      </span>
                    )}
                  </div>
                ))}
              </div>
            </div>
          </div>
        ))}
      </div>
      <p className="mt-1 min-h-10 text-[13px]" aria-live="polite" data-testid="why-brick">
        {pointed ? (
          sentenceOf(dayOf(days, pointed), pointed, { zone, zones })
        ) : (
          <span className="text-soft">Point at a brick, or walk there with the arrow keys, to read which row made it.</span>
        )}
      </p>
    </section>
  );
});

function dayOf(days: readonly EffectiveDay[], { from }: SaidInterval): EffectiveDay | undefined {
  return days.find((day) => from >= day.from && from < day.to);
}

/** `19:00-24:00`: what ends at midnight ends its day, it does not begin one. */
function spanText({ from, to }: Pick<SaidInterval, "from" | "to">, zone: string): string {
  const end = clockTime(to, zone);
  return `${clockTime(from, zone)}-${end === "00:00" ? "24:00" : end}`;
}

type Places = Readonly<{ zone: string; zones: readonly string[] }>;

/** `tue 30 19:00-23:30 Oslo: level 12, because of the row tue,fri; in Santiago this is 14:00-18:30`. */
function sentenceOf(day: EffectiveDay | undefined, { from, to, level, because }: SaidInterval, { zone, zones }: Places): string {
  const name = day ? `${WEEKDAYS[weekdayIndex(day.day)]} ${formatDate(day.day)} ` : "";
  const span = (of: string) => spanText({ from, to }, of);
  const elsewhere = zones.filter(
    (other) => other !== zone && other !== "UTC" && clockTime(from, other) !== clockTime(from, zone),
  );
  const there = elsewhere.slice(0, 2).map((other) => `in ${placeOf(other)} this is ${span(other)}`);
  const why = because === "outside" ? "outside all rows" : `because of the row ${because}`;
  const changed = day && day.hours !== USUAL_HOURS ? `; this day has ${day.hours} hours, the clock changes` : "";
  return [`${name}${span(zone)} ${placeOf(zone)}: ${levelWord(level)}, ${why}`, ...there].join("; ") + changed;
}
