"use client";
import { formatMinute, type HoursLevel, ON, type Row } from "@/core/hours";
import type { ScheduleDraft } from "@/core/plan";
import { type Instant, isZone, offsetAt } from "@/core/time";
import { levelWord } from "../kit/level-word";
import { placeOf } from "../kit/when";
import { dayLabel, levelInRow } from "../week-wall/geometry";

export type BrickSentenceProps = {
  pointed: Readonly<{ row: number; minute: number }> | null;
  brickMinutes: number;
  schedule: ScheduleDraft;
  checkedRows: readonly (Row | null)[];
  outside: HoursLevel | null;
  now: Instant;
  zones: readonly string[];
  priceOf: (level: HoursLevel, minutes: number) => string;
};

/** What the brick under the pointer means, in words: hours, place, level, the same time elsewhere, its price. */
export function BrickSentence({
  pointed,
  brickMinutes,
  schedule,
  checkedRows,
  outside,
  now,
  zones,
  priceOf,
}: BrickSentenceProps) {
  const row = pointed && checkedRows[pointed.row];
  const draft = pointed && schedule.rows[pointed.row];
  if (!pointed || !row || !draft || !isZone(schedule.zone)) {
    return (
      <p className="min-h-5 text-[13px] text-soft">
        Drag to paint. Keys: arrows move, shift selects, space paints, digits set the level, 0 is off, c and v copy a row.
      </p>
    );
  }
  const own = levelInRow(row, pointed.minute, null);
  const level = own ?? outside;
  const offset = offsetAt(schedule.zone, now);
  const elsewhere = zones.find((zone) => zone !== schedule.zone && zone !== "UTC" && offsetAt(zone, now) !== offset);
  const there = elsewhere ? (((pointed.minute + (offsetAt(elsewhere, now) - offset) / 60) % 1440) + 1440) % 1440 : 0;
  return (
    <p className="min-h-5 text-[13px]" aria-live="polite">
      {dayLabel(draft)} {formatMinute(pointed.minute)}-{formatMinute(pointed.minute + brickMinutes)} {placeOf(schedule.zone)}:{" "}
      <b>{levelWord(level)}</b>, because of {own === null ? "outside" : dayLabel(draft)}
      {elsewhere && `; in ${placeOf(elsewhere)} this is ${formatMinute(there)}-${formatMinute(there + brickMinutes)}`}
      {`; ${brickMinutes === 60 ? "an hour" : `${brickMinutes} minutes`} of it ${(level ?? 0) > 0 ? "costs" : "would cost"} ${priceOf(level === null || level === 0 ? ON : level, brickMinutes)}`}
    </p>
  );
}
