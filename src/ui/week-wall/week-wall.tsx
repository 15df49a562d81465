"use client";
import { type KeyboardEvent, useRef, useState } from "react";
import { asLevel, formatMinute, type Level, paintedAt, type Row } from "@/core/hours";
import type { RowDraft } from "@/core/plan";
import { BRICK_MINUTES, BRICKS, barsOf, levelColour, paintedRow } from "./geometry";
import { HourScale } from "./hour-scale";
import { RowText } from "./row-text";

export type WeekWallProps = {
  rows: readonly RowDraft[];
  /** The rows as checked, where the whole schedule reads; the wall shows what it can. */
  checkedRows: readonly (Row | null)[];
  outside: Level | null;
  /** The level that painting gives, and the highest one shown. */
  brush: Level;
  most: number;
  errorAt: (row: number) => string | undefined;
  onRows: (rows: readonly RowDraft[]) => void;
  onPoint: (brick: Readonly<{ row: number; minute: number }> | null) => void;
};

type Selection = Readonly<{ row: number; anchor: number; brick: number }>;

/**
 * The wall of hours: a row for each kind of day, a column for each half hour. Drag to paint; by
 * keyboard, arrows move, shift selects, a digit sets the level, space paints or clears, 0 is off,
 * c takes a row and v lays it down elsewhere.
 */
export function WeekWall({ rows, checkedRows, outside, brush, most, errorAt, onRows, onPoint }: WeekWallProps) {
  const [selection, setSelection] = useState<Selection>({ row: 0, anchor: 16, brick: 16 });
  const [stroke, setStroke] = useState<(Selection & { level: Level }) | null>(null);
  const [copied, setCopied] = useState<RowDraft | null>(null);
  const grid = useRef<HTMLDivElement>(null);

  const replaceRow = (index: number, row: RowDraft) => onRows(rows.map((old, i) => (i === index ? row : old)));
  const paint = ({ row, anchor, brick }: Selection, level: Level) => {
    const old = rows[row];
    if (old) replaceRow(row, paintedRow(old, checkedRows[row] ?? null, { from: anchor, to: brick, level, outside }));
  };
  const levelOf = (row: number, brick: number): Level | null => {
    const checked = checkedRows[row];
    if (!checked) return null;
    if (checked.spans === "off") return asLevel(0);
    return paintedAt(checked.spans, brick * BRICK_MINUTES) ?? outside;
  };
  const opposite = (row: number, brick: number): Level =>
    (levelOf(row, brick) ?? 0) > 0 && levelOf(row, brick) === brush ? asLevel(0) : brush;

  const focus = (next: Selection) => {
    setSelection(next);
    onPoint({ row: next.row, minute: next.brick * BRICK_MINUTES });
    grid.current?.querySelector<HTMLElement>(`[data-row="${next.row}"][data-brick="${next.brick}"]`)?.focus();
  };
  const onKey = (event: KeyboardEvent) => {
    const { row, anchor, brick } = selection;
    const move = (toRow: number, toBrick: number) => {
      event.preventDefault();
      const next = { row: Math.max(0, Math.min(rows.length - 1, toRow)), brick: Math.max(0, Math.min(BRICKS - 1, toBrick)) };
      const isExtending = event.shiftKey && next.row === row;
      focus({ ...next, anchor: isExtending ? anchor : next.brick });
    };
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.key === "ArrowRight") move(row, brick + 1);
    else if (event.key === "ArrowLeft") move(row, brick - 1);
    else if (event.key === "ArrowDown") move(row + 1, brick);
    else if (event.key === "ArrowUp") move(row - 1, brick);
    else if (event.key === "Home") move(row, 0);
    else if (event.key === "End") move(row, BRICKS - 1);
    else if (/^\d$/.test(event.key)) paint(selection, asLevel(Number(event.key)));
    else if (event.key === " " || event.key === "Enter") {
      event.preventDefault();
      paint(selection, opposite(row, anchor));
    } else if (event.key === "c") setCopied(rows[row] ?? null);
    else if (event.key === "v" && copied) {
      const { day: _, ...content } = copied;
      replaceRow(row, { ...content, day: rows[row]?.day ?? copied.day });
    }
  };
  const endStroke = () => {
    if (stroke) paint(stroke, stroke.level);
    setStroke(null);
  };

  return (
    <div onPointerUp={endStroke} onPointerLeave={endStroke} className="select-none">
      <HourScale />
      <div
        ref={grid}
        role="grid"
        aria-label="Week wall, half hours"
        tabIndex={-1}
        onKeyDown={onKey}
        className="flex flex-col gap-1"
      >
        {rows.map((row, rowIndex) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a row is known by its place; rows of one day key may stand twice
          <div key={rowIndex} role="row" aria-label={dayLabel(row)} className="flex items-stretch gap-2">
            <div role="rowheader" className="flex w-[86px] shrink-0 items-center justify-between font-semibold text-[13px]">
              <span className="truncate" title={dayLabel(row)}>
                {dayLabel(row)}
              </span>
              <button
                type="button"
                aria-label={`Remove the row ${dayLabel(row)}`}
                className="px-1 text-soft hover:text-loss"
                onClick={() => onRows(rows.filter((_, i) => i !== rowIndex))}
              >
                ×
              </button>
            </div>
            <div
              className="relative flex h-[30px] flex-1 overflow-hidden rounded-brick border border-lines"
              style={{ background: levelColour(checkedRows[rowIndex]?.spans === "off" ? asLevel(0) : outside, most) }}
            >
              {(checkedRows[rowIndex]?.spans === "off"
                ? []
                : barsOf((checkedRows[rowIndex]?.spans ?? []) as Exclude<Row["spans"], "off">)
              ).map((bar) => (
                <div
                  key={`${bar.left} ${bar.width} ${bar.isTail}`}
                  aria-hidden
                  className={`absolute inset-y-0 flex items-center justify-center overflow-hidden text-[12px] ${bar.isTail ? "border-ink/50 border-r-2 border-dashed opacity-70" : ""}`}
                  style={{ left: `${bar.left * 100}%`, width: `${bar.width * 100}%`, background: levelColour(bar.level, most) }}
                  title={bar.isTail ? "runs over from the evening before" : undefined}
                />
              ))}
              {Array.from({ length: BRICKS }, (_, brick) => {
                const isSelected = stroke
                  ? stroke.row === rowIndex &&
                    brick >= Math.min(stroke.anchor, stroke.brick) &&
                    brick <= Math.max(stroke.anchor, stroke.brick)
                  : selection.row === rowIndex &&
                    selection.anchor !== selection.brick &&
                    brick >= Math.min(selection.anchor, selection.brick) &&
                    brick <= Math.max(selection.anchor, selection.brick);
                const level = levelOf(rowIndex, brick);
                return (
                  <div
                    // biome-ignore lint/suspicious/noArrayIndexKey: the 48 bricks of a day are a fixed row
                    key={brick}
                    role="gridcell"
                    tabIndex={selection.row === rowIndex && selection.brick === brick ? 0 : -1}
                    data-row={rowIndex}
                    data-brick={brick}
                    aria-selected={isSelected}
                    aria-label={`${dayLabel(row)} ${formatMinute(brick * BRICK_MINUTES)} to ${formatMinute((brick + 1) * BRICK_MINUTES)}, ${levelWord(level)}`}
                    className={`relative flex-1 outline-offset-[-2px] ${brick % 2 === 0 ? "border-paper/70 border-l" : ""} ${isSelected ? (stroke ? "" : "bg-attention/50") : "hover:bg-ink/15"}`}
                    style={stroke && isSelected ? { background: levelColour(stroke.level, most) } : undefined}
                    onPointerDown={(event) => {
                      event.currentTarget.releasePointerCapture?.(event.pointerId);
                      focus({ row: rowIndex, anchor: brick, brick });
                      setStroke({ row: rowIndex, anchor: brick, brick, level: opposite(rowIndex, brick) });
                    }}
                    onPointerEnter={() => {
                      onPoint({ row: rowIndex, minute: brick * BRICK_MINUTES });
                      if (stroke?.row === rowIndex) setStroke({ ...stroke, brick });
                    }}
                    onFocus={() => onPoint({ row: rowIndex, minute: brick * BRICK_MINUTES })}
                  />
                );
              })}
            </div>
            <RowText row={row} error={errorAt(rowIndex)} label={dayLabel(row)} onRow={(next) => replaceRow(rowIndex, next)} />
          </div>
        ))}
      </div>
    </div>
  );
}

function levelWord(level: Level | null): string {
  if (level === null) return "left alone";
  return level === 0 ? "off" : level === 1 ? "on" : `level ${level}`;
}

export function dayLabel({ day }: RowDraft): string {
  return Array.isArray(day) ? day.join(", ") : day;
}
