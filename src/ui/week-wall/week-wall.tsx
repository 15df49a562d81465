"use client";
import { type FocusEvent, type KeyboardEvent, memo, type PointerEvent, useCallback, useRef, useState } from "react";
import { asCount, type HoursLevel, ON, type Row } from "@/core/hours";
import type { RowDraft } from "@/core/plan";
import { DAY_MINUTES } from "@/core/time";
import { type BrickMinutes, levelInRow, oppositeOf, paintedRow, type Sense, type Stroke } from "./geometry";
import { HourScale } from "./hour-scale";
import { WallRow } from "./wall-row";

export type WeekWallProps = {
  rows: readonly RowDraft[];
  /** The rows as checked, where the whole schedule reads; the wall shows what it can. */
  checkedRows: readonly (Row | null)[];
  outside: HoursLevel | null;
  /** The level that painting gives, and the highest one shown. */
  brush: HoursLevel;
  most: number;
  /** Some of what follows these hours has more levels than on and off. */
  hasCounts: boolean;
  brickMinutes: BrickMinutes;
  sense: Sense;
  errorAt: (row: number) => string | undefined;
  onRows: (rows: readonly RowDraft[]) => void;
  /** The rows as they would be if the stroke ended here; null when there is none. */
  onTentative: (rows: readonly RowDraft[] | null) => void;
  onPoint: (brick: Readonly<{ row: number; minute: number }> | null) => void;
};

/** `anchor` and `minute` are the first minutes of the bricks at both ends of a selection. */
type Selection = Readonly<{ row: number; anchor: number; minute: number }>;

/**
 * The wall of hours: a row for each kind of day, a column for each brick. Drag to paint; by keyboard,
 * arrows move, shift selects, a digit sets the level, space paints or clears, 0 is off, c takes a row
 * and v lays it down elsewhere.
 */
export const WeekWall = memo(function WeekWall(props: WeekWallProps) {
  const { rows, checkedRows, outside, brush, most, hasCounts, brickMinutes, sense, errorAt, onRows, onTentative, onPoint } =
    props;
  const [selection, setSelection] = useState<Selection>({ row: 0, anchor: 480, minute: 480 });
  const [stroke, setStroke] = useState<(Selection & { level: HoursLevel }) | null>(null);
  const [copied, setCopied] = useState<RowDraft | null>(null);
  const grid = useRef<HTMLDivElement>(null);
  const isMoving = useRef(false);
  const latest = useRef(props);
  latest.current = props;

  const spanOf = ({ anchor, minute }: Selection) => ({
    from: Math.min(anchor, minute),
    to: Math.max(anchor, minute) + brickMinutes,
  });
  const withStroke = ({ row, from, to, level }: Stroke): readonly RowDraft[] =>
    rows.map((old, i) => (i === row ? paintedRow(old, checkedRows[row] ?? null, { from, to, level, outside }) : old));
  const paint = (at: Selection, level: HoursLevel) => onRows(withStroke({ row: at.row, ...spanOf(at), level }));
  const opposite = (row: number, minute: number) =>
    oppositeOf(levelInRow(checkedRows[row] ?? null, minute, outside), brush, sense);
  const replaceRow = useCallback((index: number, row: RowDraft) => {
    const { rows: now, onRows: tell } = latest.current;
    tell(now.map((old, i) => (i === index ? row : old)));
  }, []);
  const removeRow = useCallback((index: number) => {
    const { rows: now, onRows: tell } = latest.current;
    tell(now.filter((_, i) => i !== index));
  }, []);

  const focus = (next: Selection) => {
    setSelection(next);
    onPoint({ row: next.row, minute: next.minute });
    isMoving.current = true;
    grid.current?.querySelector<HTMLElement>(`[data-row="${next.row}"][data-minute="${next.minute}"]`)?.focus();
    isMoving.current = false;
  };
  /** A brick that got the focus in another way than by the wall's own keys and presses. */
  const onFocus = (event: FocusEvent) => {
    const at = brickOf(event.target);
    if (!at || isMoving.current) return;
    setSelection({ row: at.row, anchor: at.minute, minute: at.minute });
    onPoint(at);
  };
  const onKey = (event: KeyboardEvent) => {
    if (!brickOf(event.target) || event.ctrlKey || event.metaKey || event.altKey) return;
    const { row, anchor } = selection;
    // After a zoom the brick under the keyboard may have become part of a larger one.
    const minute = Math.floor(selection.minute / brickMinutes) * brickMinutes;
    const move = (toRow: number, toMinute: number) => {
      event.preventDefault();
      const next = {
        row: Math.max(0, Math.min(rows.length - 1, toRow)),
        minute: Math.max(0, Math.min(DAY_MINUTES - brickMinutes, toMinute)),
      };
      const isExtending = event.shiftKey && next.row === row;
      focus({ ...next, anchor: isExtending ? anchor : next.minute });
    };
    if (event.key === "ArrowRight") move(row, minute + brickMinutes);
    else if (event.key === "ArrowLeft") move(row, minute - brickMinutes);
    else if (event.key === "ArrowDown") move(row + 1, minute);
    else if (event.key === "ArrowUp") move(row - 1, minute);
    else if (event.key === "Home") move(row, 0);
    else if (event.key === "End") move(row, DAY_MINUTES - brickMinutes);
    else if (/^\d$/.test(event.key)) paint(selection, event.key === "1" && !hasCounts ? ON : asCount(Number(event.key)));
    else if (event.key === " " || event.key === "Enter") {
      event.preventDefault();
      paint(selection, opposite(row, anchor));
    } else if (event.key === "c") setCopied(rows[row] ?? null);
    else if (event.key === "v" && copied) {
      const { day: _, holidays: __, ...content } = copied;
      const { spans: ___, off: ____, ...kept } = rows[row] as RowDraft;
      replaceRow(row, { ...kept, ...content });
    }
  };

  const onDown = (event: PointerEvent) => {
    const at = brickOf(event.target);
    if (!at) return;
    const target = event.target as HTMLElement;
    if (target.hasPointerCapture(event.pointerId)) target.releasePointerCapture(event.pointerId);
    focus({ row: at.row, anchor: at.minute, minute: at.minute });
    const begun = { row: at.row, anchor: at.minute, minute: at.minute, level: opposite(at.row, at.minute) };
    setStroke(begun);
    onTentative(withStroke({ ...begun, ...spanOf(begun) }));
  };
  const onOver = (event: PointerEvent) => {
    const at = brickOf(event.target);
    if (!at) return;
    if (!stroke) return onPoint(at);
    if (stroke.row !== at.row || stroke.minute === at.minute) return;
    const next = { ...stroke, minute: at.minute };
    setStroke(next);
    onTentative(withStroke({ ...next, ...spanOf(next) }));
  };
  const endStroke = () => {
    if (!stroke) return;
    setStroke(null);
    onTentative(null);
    paint(stroke, stroke.level);
  };

  const selected = selection.anchor === selection.minute ? { from: 0, to: 0 } : spanOf(selection);
  const stroked = stroke && spanOf(stroke);
  return (
    <div onPointerUp={endStroke} onPointerLeave={endStroke} className="select-none">
      <HourScale />
      <div
        ref={grid}
        id="wall"
        role="grid"
        aria-label={`Week wall, bricks of ${brickMinutes} minutes`}
        tabIndex={-1}
        onKeyDown={onKey}
        onFocus={onFocus}
        onPointerDown={onDown}
        onPointerOver={onOver}
        className="flex flex-col gap-1"
      >
        {rows.map((row, index) => {
          const isHere = selection.row === index || (selection.row >= rows.length && index === 0);
          const isStroked = stroke?.row === index;
          return (
            <WallRow
              // biome-ignore lint/suspicious/noArrayIndexKey: a row is known by its place; rows of one day key may stand twice
              key={index}
              index={index}
              row={row}
              checked={checkedRows[index] ?? null}
              outside={outside}
              brush={brush}
              most={most}
              brickMinutes={brickMinutes}
              sense={sense}
              at={isHere ? Math.floor(selection.minute / brickMinutes) * brickMinutes : null}
              selectedFrom={isHere && !stroke ? selected.from : 0}
              selectedTo={isHere && !stroke ? selected.to : 0}
              strokeFrom={isStroked && stroked ? stroked.from : 0}
              strokeTo={isStroked && stroked ? stroked.to : 0}
              strokeLevel={isStroked && stroke ? stroke.level : null}
              error={errorAt(index)}
              onRow={replaceRow}
              onRemove={removeRow}
            />
          );
        })}
      </div>
    </div>
  );
});

/** The brick that an event happened on; null elsewhere in the wall. */
function brickOf(target: EventTarget): { row: number; minute: number } | null {
  const brick = target instanceof HTMLElement ? target.closest<HTMLElement>("[data-minute]") : null;
  return brick ? { row: Number(brick.dataset.row), minute: Number(brick.dataset.minute) } : null;
}
