"use client";
import { type CompiledSchedule, formatMinute } from "@/core/hours";
import { clockChanges, DAY_S, formatDate, type Instant, localTime, WEEKDAYS, weekdayIndex } from "@/core/time";
import { levelColour } from "./geometry";

export type EffectiveWeekProps = { compiled: CompiledSchedule; now: Instant; most: number };

/** The seven days of this week as the rows make them: holidays and clock changes included. */
export function EffectiveWeek({ compiled, now, most }: EffectiveWeekProps) {
  const { zone } = compiled.schedule;
  const today = localTime(zone, now).day;
  const monday = today - weekdayIndex(today);
  const changes = new Map(
    clockChanges(zone, now - 8 * DAY_S, now + 8 * DAY_S).map(({ at, change }) => [localTime(zone, at).day, change]),
  );
  return (
    <div>
      <h3 className="mt-2 mb-1 font-semibold text-[13px]">This week as it comes out</h3>
      <div className="flex flex-col gap-0.5">
        {Array.from({ length: 7 }, (_, i) => monday + i).map((day) => {
          const stretches = compiled.dayOf(day);
          const change = changes.get(day);
          const said = stretches
            .filter(({ level }) => level !== 0)
            .map(
              ({ start, end, level }) =>
                `${formatMinute(start)}-${formatMinute(end)}${level === null ? " left alone" : level > 1 ? ` ×${level}` : ""}`,
            );
          return (
            <div key={day} className="flex items-center gap-2">
              <span className={`w-[86px] shrink-0 text-[13px] ${day === today ? "font-bold" : ""}`}>
                {WEEKDAYS[weekdayIndex(day)]} {formatDate(day).slice(8)}
                {compiled.isHoliday(day) && <span title="holiday"> ✶</span>}
              </span>
              <div aria-hidden className="flex h-[14px] flex-1 overflow-hidden rounded-brick border border-lines">
                {stretches.map(({ start, end, level, because }) => (
                  <div
                    key={start}
                    title={`${formatMinute(start)}-${formatMinute(end)}, because of ${because}`}
                    className={
                      level === null ? "bg-[repeating-linear-gradient(90deg,var(--lines)_0_2px,transparent_2px_6px)]" : ""
                    }
                    style={{
                      width: `${((end - start) / 1440) * 100}%`,
                      ...(level === null ? {} : { background: levelColour(level, most) }),
                    }}
                  />
                ))}
              </div>
              <span className="w-[148px] shrink-0 truncate text-[13px] text-soft" title={said.join(", ")}>
                {said.join(", ") || "off"}
                {change !== undefined && ` · ${24 - change / 3600} h day`}
              </span>
            </div>
          );
        })}
      </div>
    </div>
  );
}
