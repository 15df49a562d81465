"use client";
import { useVirtualizer } from "@tanstack/react-virtual";
import Link from "next/link";
import { useEffect, useRef } from "react";
import type { Sort } from "@/core/spend";
import type { BurnGroup, BurnLine, BurnMachine } from "@/services";
import { StateBrick } from "../kit/brick";
import { clockTime, dayTimePlace } from "../kit/when";

const ROW_PX = 30;
const GRID =
  "grid grid-cols-[minmax(150px,1.3fr)_minmax(80px,0.8fr)_minmax(100px,0.8fr)_minmax(110px,1fr)_88px_182px_90px_84px_100px_136px] items-center gap-x-3 px-4";

export type TableProps = {
  lineCount: number;
  lineAt: (index: number) => BurnLine | undefined;
  onSee: (from: number, to: number) => void;
  sort: Sort;
  isDescending: boolean;
  onSort: (sort: Sort) => void;
  onFold: (key: string) => void;
  zones: Readonly<Record<string, string>>;
  currency: string;
  now: number;
  onHold: (line: BurnMachine) => void;
  onRelease: (line: BurnMachine) => void;
};

/** The rows of Burn. Only those in sight are drawn, however many there are. */
export function Table({
  lineCount,
  lineAt,
  onSee,
  sort,
  isDescending,
  onSort,
  onFold,
  zones,
  currency,
  now,
  onHold,
  onRelease,
}: TableProps) {
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: lineCount,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_PX,
    overscan: 12,
    initialRect: { width: 1280, height: 500 },
  });
  const items = virtual.getVirtualItems();
  const from = items[0]?.index ?? 0;
  const to = items.at(-1)?.index ?? 0;
  useEffect(() => onSee(from, to), [from, to, onSee]);

  const heading = (label: string, key?: Sort, isNumber = false) => {
    const isSorted = key === sort;
    const direction = isSorted ? (isDescending ? "descending" : "ascending") : undefined;
    return (
      <div role="columnheader" aria-sort={direction} className={`whitespace-nowrap ${isNumber ? "text-right" : ""}`}>
        {key ? (
          <button type="button" className="font-semibold hover:underline" onClick={() => onSort(key)}>
            {label}
            <span aria-hidden>{isSorted ? (isDescending ? " ↓" : " ↑") : ""}</span>
          </button>
        ) : (
          <span className="font-semibold">{label}</span>
        )}
      </div>
    );
  };

  return (
    <div
      ref={scroller}
      role="table"
      aria-label="What runs"
      aria-rowcount={lineCount + 1}
      tabIndex={0}
      className="min-h-0 flex-1 overflow-auto border-lines border-t"
    >
      <div className="min-w-[1180px]">
        <div
          role="row"
          aria-rowindex={1}
          className={`${GRID} sticky top-0 z-10 h-[30px] border-lines border-b bg-paper text-[13px]`}
        >
          {heading("Name", "name")}
          {heading("Owner")}
          {heading("Region")}
          {heading("Fleet")}
          {heading("State")}
          {heading("Since", "since")}
          {heading(`${currency} an hour`, "perHour", true)}
          {heading(`${currency} so far`, "soFar", true)}
          {heading("to month's end", undefined, true)}
          {heading("Plan says")}
        </div>
        <div role="rowgroup" className="relative" style={{ height: virtual.getTotalSize() }}>
          {items.map(({ index, start }) => {
            const line = lineAt(index);
            return (
              <div
                key={index}
                role="row"
                aria-rowindex={index + 2}
                className={`${GRID} absolute right-0 left-0 h-[30px] border-lines border-b ${line?.kind === "group" ? "bg-raised font-semibold" : ""}`}
                style={{ transform: `translateY(${start}px)` }}
              >
                {line === undefined && <span className="text-soft">reading</span>}
                {line?.kind === "group" && <GroupCells line={line} onFold={onFold} />}
                {line?.kind === "machine" && (
                  <MachineCells line={line} zone={zones[line.region] ?? "UTC"} now={now} onHold={onHold} onRelease={onRelease} />
                )}
              </div>
            );
          })}
        </div>
      </div>
    </div>
  );
}

function Cell({
  children,
  className = "",
  title,
}: {
  children?: React.ReactNode;
  className?: string;
  title?: string | undefined;
}) {
  return (
    <div role="cell" className={`truncate ${className}`} title={title}>
      {children}
    </div>
  );
}

function GroupCells({ line, onFold }: { line: BurnGroup; onFold: (key: string) => void }) {
  return (
    <>
      <Cell className="col-span-2">
        <button type="button" aria-expanded={line.isOpen} onClick={() => onFold(line.key)} className="hover:underline">
          <span aria-hidden className="inline-block w-4">
            {line.isOpen ? "▾" : "▸"}
          </span>
          {line.key}
        </button>
      </Cell>
      <Cell className="col-span-4 font-normal text-soft">
        {line.count} running{line.notDue > 0 ? `, ${line.notDue} should not be` : ""}
      </Cell>
      <Cell className="text-right">{line.perHour}</Cell>
      <Cell className="text-right">{line.soFar}</Cell>
      <Cell className="text-right">{line.byMonthEnd}</Cell>
      <Cell />
    </>
  );
}

type MachineCellsProps = Pick<TableProps, "onHold" | "onRelease" | "now"> & { line: BurnMachine; zone: string };

function MachineCells({ line, zone, now, onHold, onRelease }: MachineCellsProps) {
  const many = line.what === "group" ? ` × ${line.level}` : line.what === "service" ? `, ${line.level} cores` : "";
  return (
    <>
      <Cell title={`${line.name}, ${line.what}, ${line.size}`}>
        <Link href={`/machines/${encodeURIComponent(line.id)}`} className="no-underline hover:underline">
          {line.name}
        </Link>
        <span className="text-soft">{many}</span>
      </Cell>
      <Cell>{line.owner || <span className="text-soft">none</span>}</Cell>
      <Cell>{line.region}</Cell>
      <Cell>{line.fleet || <span className="text-soft">none</span>}</Cell>
      <Cell>
        <StateBrick state={line.state} />
      </Cell>
      <Cell>{dayTimePlace(line.since, zone, now)}</Cell>
      <Cell className="text-right" title={line.unpriced.length > 0 ? `without a price: ${line.unpriced.join(", ")}` : undefined}>
        {line.unpriced.length > 0 ? "≥ " : ""}
        {line.perHour}
      </Cell>
      <Cell className="text-right">{line.soFar}</Cell>
      <Cell className="text-right">{line.byMonthEnd}</Cell>
      <Cell title={line.why} className="flex items-center justify-between gap-1">
        {line.hold ? (
          <>
            <span className="truncate">
              held {line.hold.level === 0 ? "off" : "on"} to {clockTime(line.hold.to, zone)}
            </span>
            <RowButton label={`Release the hold on ${line.name}`} onClick={() => onRelease(line)}>
              ×
            </RowButton>
          </>
        ) : (
          <>
            <span className={line.due === "off" ? "font-semibold text-loss" : line.due === "leave" ? "text-soft" : ""}>
              {line.due === "off" ? "△ off" : line.fleet === "" ? "no plan" : line.due}
            </span>
            {line.fleet !== "" && line.state !== "halted" && (
              <RowButton label={`keep 4 h: ${line.name}`} onClick={() => onHold(line)}>
                keep 4 h
              </RowButton>
            )}
          </>
        )}
      </Cell>
    </>
  );
}

function RowButton({ label, onClick, children }: { label: string; onClick: () => void; children: React.ReactNode }) {
  return (
    <button
      type="button"
      aria-label={label}
      title={label}
      onClick={onClick}
      className="h-[22px] shrink-0 rounded-brick border border-ink/40 bg-raised px-1.5 text-[12px] hover:border-ink"
    >
      {children}
    </button>
  );
}
