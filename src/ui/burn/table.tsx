"use client";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useRef } from "react";
import { endWords, overriddenSign } from "@/core/rounds";
import type { Sort } from "@/core/spend";
import type { BurnFee, BurnGroup, BurnLine, BurnMachine, BurnRest } from "@/services/cost";
import type { LifeWeek } from "@/services/inventory";
import { AtLink } from "../as-of/at-link";
import { StateBrick } from "../kit/brick";
import { clockTime, dateTime, dayTimePlace, placeOf } from "../kit/when";
import { useWeeks } from "../life-strip/use-weeks";
import { WeekStrip } from "../life-strip/week-strip";

const ROW_PX = 30;
const GRID =
  "grid grid-cols-[minmax(140px,1.3fr)_minmax(84px,0.8fr)_minmax(88px,0.7fr)_minmax(84px,0.8fr)_84px_minmax(92px,0.5fr)_86px_64px_78px_74px_80px_114px] items-center gap-x-2.5 px-4";

export type TableProps = {
  lineCount: number;
  lineAt: (index: number) => BurnLine | undefined;
  onSee: (from: number, to: number) => void;
  sort: Sort;
  isDescending: boolean;
  onSort: (sort: Sort) => void;
  onFold: (key: string) => void;
  /** The one zone of the page. */
  zone: string;
  currency: string;
  now: number;
  /** As of another instant: nothing can be done about it. */
  isAsOf: boolean;
  onFilter: (filter: string) => void;
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
  zone,
  currency,
  now,
  isAsOf,
  onFilter,
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
  const inSight = items.flatMap(({ index }) => {
    const line = lineAt(index);
    return line?.kind === "machine" ? [line.id] : [];
  });
  const weekOf = useWeeks(inSight, isAsOf ? now : null);

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
      className="overflow-auto border-lines border-t max-lg:h-[75vh] lg:min-h-0 lg:flex-1"
    >
      <div className="min-w-[1210px]">
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
          {heading(`Since, ${placeOf(zone)}`, "since")}
          {heading("Last 7 days")}
          {heading(`${currency}/h`, "perHour", true)}
          {heading("so far", "soFar", true)}
          {heading("this month", "month", true)}
          {heading("by its end", undefined, true)}
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
                {line?.kind === "group" && <GroupCells line={line} onFold={onFold} onFilter={onFilter} />}
                {line?.kind === "rest" && <RestCells line={line} />}
                {line?.kind === "fee" && <FeeCells line={line} />}
                {line?.kind === "machine" && (
                  <MachineCells
                    line={line}
                    zone={zone}
                    week={weekOf(line.id)}
                    now={now}
                    isAsOf={isAsOf}
                    onHold={onHold}
                    onRelease={onRelease}
                  />
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

type GroupCellsProps = { line: BurnGroup; onFold: (key: string) => void; onFilter: (filter: string) => void };

function GroupCells({ line, onFold, onFilter }: GroupCellsProps) {
  const { filter } = line;
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
      <Cell className="col-span-5 font-normal text-soft">
        {line.count > 0 ? `${line.count} running` : line.key === "commitments" ? "fees, due whatever runs" : "nothing runs"}
        {line.notDue > 0 ? `, ${line.notDue} should not be` : ""}
      </Cell>
      <MoneyCells line={line} />
      <Cell>
        {filter !== null && (
          <RowButton label={`only these: ${filter}`} onClick={() => onFilter(filter)}>
            only these
          </RowButton>
        )}
      </Cell>
    </>
  );
}

type MoneyCellsProps = {
  line: Pick<BurnGroup, "perHour" | "soFar" | "month" | "byMonthEnd" | "ifAsNow">;
  mark?: string;
  /** Where the figure is opened to what it is made of. */
  href?: string;
};

/** What is not known ahead of now is a dash. */
function MoneyCells({ line, mark = "", href }: MoneyCellsProps) {
  return (
    <>
      <Cell className="text-right">
        {mark}
        {line.perHour}
      </Cell>
      <Cell className="text-right">{line.soFar ?? "\u2013"}</Cell>
      <Cell className="text-right">
        {href && line.month !== null ? (
          <AtLink href={href} className="no-underline hover:underline" title="What it is made of">
            {line.month}
          </AtLink>
        ) : (
          (line.month ?? "\u2013")
        )}
      </Cell>
      <Cell className="text-right" title={line.ifAsNow === null ? undefined : `${line.ifAsNow} if all goes on as now`}>
        {line.byMonthEnd ?? "\u2013"}
      </Cell>
    </>
  );
}

/** A commitment's fee: due whatever runs. */
function FeeCells({ line }: { line: BurnFee }) {
  return (
    <>
      <Cell className="col-span-2" title={line.name}>
        {line.name}
      </Cell>
      <Cell>{line.region}</Cell>
      <Cell className="col-span-4 text-soft">
        {line.used} of {line.units} in use; the fee is due whatever runs
      </Cell>
      <MoneyCells line={line} />
      <Cell />
    </>
  );
}

/** Everything that does not run and has cost something this month, in one row. */
function RestCells({ line }: { line: BurnRest }) {
  return (
    <>
      <Cell className="col-span-3 text-soft">{line.count} that do not run</Cell>
      <Cell className="col-span-4 text-soft" title="Machines that are off or gone, loose disks and addresses">
        off, loose or gone: what they cost this month
      </Cell>
      <MoneyCells line={line} />
      <Cell />
    </>
  );
}

type MachineCellsProps = Pick<TableProps, "onHold" | "onRelease" | "now" | "isAsOf"> & {
  line: BurnMachine;
  zone: string;
  week: LifeWeek | undefined;
};

function MachineCells({ line, zone, week, now, isAsOf, onHold, onRelease }: MachineCellsProps) {
  const many = line.what === "group" ? ` × ${line.level}` : line.what === "service" ? `, ${line.level} cores` : "";
  return (
    <>
      <Cell title={`${line.name}, ${line.what}, ${line.size}`}>
        <AtLink href={`/machines/${encodeURIComponent(line.id)}`} className="no-underline hover:underline">
          {line.name}
        </AtLink>
        <span className="text-soft">
          {many}
          {line.isSpot && ", spot"}
        </span>
      </Cell>
      <Cell>{line.owner || <span className="text-soft">none</span>}</Cell>
      <Cell>{line.region}</Cell>
      <Cell>{line.fleet || <span className="text-soft">none</span>}</Cell>
      <Cell>
        <StateBrick state={line.state} />
      </Cell>
      <Cell title={dayTimePlace(line.since, zone, now)}>{dateTime(line.since, zone, now)}</Cell>
      <Cell>
        <WeekStrip week={week} />
      </Cell>
      <MoneyCells
        line={line}
        mark={line.unpriced.length > 0 ? "\u2265 " : line.isCovered ? "◪ " : ""}
        href={`/machines/${encodeURIComponent(line.id)}/cost`}
      />
      <Cell title={line.why} className="flex items-center justify-between gap-1">
        {line.hold ? (
          <>
            <span className="truncate">
              {overriddenSign(line.hold)}
              {line.hold.kind === "start" && ","}
              {line.hold.kind !== "trip" && ` to ${clockTime(line.hold.to, zone)}`}
            </span>
            <RowButton label={endWords(line.hold.kind, line.name)} onClick={() => onRelease(line)}>
              ×
            </RowButton>
          </>
        ) : (
          <>
            <span className={line.due === "off" ? "font-semibold text-loss" : line.due === "leave" ? "text-soft" : ""}>
              {line.due === "off" ? "△ off" : line.fleet === "" ? "no plan" : line.due}
            </span>
            {line.fleet !== "" && line.state !== "halted" && line.what !== "member" && !isAsOf && (
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
