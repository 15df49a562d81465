"use client";
import { memo } from "react";
import { formatMinute, HOURS_OFF, type HoursLevel, ON, type Row } from "@/core/hours";
import type { RowDraft } from "@/core/plan";
import { DAY_MINUTES } from "@/core/time";
import { levelWord } from "../kit/level-word";
import { type Bar, type BrickMinutes, barsOf, dayLabel, levelColour, levelInRow, offBarsOf, type Sense } from "./geometry";
import { RowKey } from "./row-key";
import { RowText } from "./row-text";
import { readRowText, rowTextOf } from "./row-words";

export type WallRowProps = {
  index: number;
  row: RowDraft;
  checked: Row | null;
  outside: HoursLevel | null;
  brush: HoursLevel;
  most: number;
  brickMinutes: BrickMinutes;
  sense: Sense;
  /** The minute of the brick that the keyboard is at; null in other rows. */
  at: number | null;
  /** Minutes that are selected; empty where from equals to. */
  selectedFrom: number;
  selectedTo: number;
  /** Minutes being painted and the level they get; null where none are. */
  strokeFrom: number;
  strokeTo: number;
  strokeLevel: HoursLevel | null;
  error: string | undefined;
  onRow: (index: number, row: RowDraft) => void;
  onRemove: (index: number) => void;
};

/** One kind of day: its key, its bricks, its hours as text. Drawn anew only when it changes itself. */
export const WallRow = memo(function WallRow(props: WallRowProps) {
  const { index, row, checked, outside, brush, most, sense, error, onRow, onRemove } = props;
  const label = dayLabel(row);
  const bars = checked && checked.spans !== "off" ? barsOf(checked.spans) : [];
  return (
    <div role="row" aria-label={label} className="flex items-stretch gap-2 max-sm:flex-wrap">
      <div
        role="rowheader"
        className="flex w-[104px] shrink-0 items-center justify-between max-sm:w-full font-semibold text-[13px]"
      >
        <RowKey row={row} label={label} onRow={(next) => onRow(index, next)} />
        <button
          type="button"
          aria-label={`Remove the row ${label}`}
          className="px-1 text-soft hover:text-loss"
          onClick={() => onRemove(index)}
        >
          ×
        </button>
      </div>
      <div
        className="relative flex h-[30px] flex-1 touch-none overflow-hidden rounded-brick border border-lines max-sm:basis-full"
        style={{ background: levelColour(checked?.spans === "off" ? HOURS_OFF : outside, most) }}
      >
        {bars.map((bar) => (
          <WallBar key={`${bar.left} ${bar.width} ${bar.isTail}`} bar={bar} most={most} word={barWord(bar.level)} />
        ))}
        {sense === "off" &&
          checked &&
          offBarsOf(checked, outside).map((bar) => (
            <WallBar key={`off ${bar.left}`} bar={bar} most={most} word="off" isOutlined />
          ))}
        <Bricks {...props} label={label} />
      </div>
      <RowText
        stored={rowTextOf(row, checked, { sense, outside })}
        row={row}
        label={label}
        error={error}
        read={(old, text) => readRowText(old, { text, checked, sense, outside, brush })}
        onRow={(next) => onRow(index, next)}
      />
    </div>
  );
});

type WallBarProps = { bar: Bar; most: number; word: string; isOutlined?: boolean };

function WallBar({ bar: { left, width, level, isTail }, most, word, isOutlined = false }: WallBarProps) {
  return (
    <div
      aria-hidden
      className={`absolute inset-y-0 flex items-center justify-center overflow-hidden text-[11px] ${isTail ? "border-ink/50 border-r-2 border-dashed opacity-70" : ""} ${isOutlined ? "border border-shade-deep border-dashed" : ""}`}
      style={{ left: `${left * 100}%`, width: `${width * 100}%`, background: levelColour(level, most) }}
      title={isTail ? "runs over from the evening before" : undefined}
    >
      {width > 0.035 && <span className="rounded-[2px] bg-paper/85 px-1 leading-4">{word}</span>}
    </div>
  );
}

function barWord(level: HoursLevel): string {
  return level === 0 ? "off" : level === ON ? "on" : `×${level}`;
}

/** The bricks themselves. Presses are heard by the wall around them, so that there may be many. */
function Bricks(props: WallRowProps & { label: string }) {
  const { index, checked, outside, most, brickMinutes, at, selectedFrom, selectedTo, strokeFrom, strokeTo, strokeLevel, label } =
    props;
  return Array.from({ length: DAY_MINUTES / brickMinutes }, (_, i) => i * brickMinutes).map((minute) => {
    const isStroked = strokeLevel !== null && minute >= strokeFrom && minute < strokeTo;
    const isSelected = minute >= selectedFrom && minute < selectedTo;
    const isHour = minute % 60 === 0;
    return (
      <div
        key={minute}
        role="gridcell"
        tabIndex={at === minute ? 0 : -1}
        data-row={index}
        data-minute={minute}
        aria-selected={isSelected}
        aria-label={`${label} ${formatMinute(minute)} to ${formatMinute(minute + brickMinutes)}, ${levelWord(levelInRow(checked, minute, outside))}`}
        className={`relative flex-1 outline-offset-[-2px] ${isHour ? "border-paper/70 border-l" : ""} ${isSelected ? "bg-attention/50" : "hover:bg-ink/15"}`}
        style={isStroked ? { background: levelColour(strokeLevel, most) } : undefined}
      />
    );
  });
}
