"use client";
import type { FleetsMoney } from "@/services/cost";
import type { FleetSummary } from "@/services/plans";
import { AtLink } from "../as-of/at-link";
import { FleetMenu } from "./fleet-menu";

export type FleetRowProps = {
  fleet: FleetSummary;
  /** What it costs; null while none of it is its own, being a draft. */
  money: FleetsMoney["all"] | null;
  rank: number;
  /** What is of another time is looked at only. */
  isManaged: boolean;
  isDragged: boolean;
  onStep: (by: -1 | 1) => void;
  onDrag: (id: number | null) => void;
  onOver: () => void;
};

/** One fleet of the list; its handle moves it, by the pointer or by the arrow keys. */
export function FleetRow({ fleet, money, rank, isManaged, isDragged, onStep, onDrag, onOver }: FleetRowProps) {
  return (
    <tr
      className={`h-[34px] border-lines border-b hover:bg-raised ${isDragged ? "bg-lit/30" : ""}`}
      onDragOver={(event) => {
        event.preventDefault();
        onOver();
      }}
      onDrop={(event) => event.preventDefault()}
    >
      <td className="pr-3 text-right text-soft">
        {isManaged && (
          <button
            type="button"
            draggable
            aria-label={`Rank of ${fleet.name}: ${rank}. Arrow keys move it.`}
            title="Drag, or press the arrow keys"
            className="mr-2 cursor-grab rounded-brick px-1 text-soft hover:text-ink"
            onDragStart={(event) => {
              event.dataTransfer.effectAllowed = "move";
              event.dataTransfer.setData("text/plain", fleet.name);
              onDrag(fleet.id);
            }}
            onDragEnd={() => onDrag(null)}
            onKeyDown={(event) => {
              if (event.key !== "ArrowUp" && event.key !== "ArrowDown") return;
              event.preventDefault();
              onStep(event.key === "ArrowUp" ? -1 : 1);
            }}
          >
            <span aria-hidden>⋮⋮</span>
          </button>
        )}
        {rank}
      </td>
      <td className="pr-3">
        <AtLink
          href={`/fleets/${fleet.id}`}
          className="font-semibold underline decoration-lines decoration-2 underline-offset-4 hover:decoration-lit-deep"
        >
          {fleet.name}
        </AtLink>
      </td>
      <td className="max-w-[400px] truncate pr-3" title={fleet.select}>
        {fleet.selectorError ? (
          <span className="text-loss">{fleet.selectorError}</span>
        ) : (
          <code className="font-sans">{fleet.select}</code>
        )}
      </td>
      <td className="pr-3">{fleet.hours || <span className="text-soft">none</span>}</td>
      <td
        className="pr-3 text-right"
        title={fleet.claimedByOthers > 0 ? `${fleet.claimedByOthers} belong to a fleet above` : undefined}
      >
        {fleet.matches}
        {fleet.claimedByOthers > 0 && <span className="text-soft"> (−{fleet.claimedByOthers})</span>}
      </td>
      <td className="pr-3 text-right">
        {fleet.running}
        {fleet.missing > 0 && <span className="whitespace-nowrap text-loss">, △ {fleet.missing} missing</span>}
      </td>
      <MoneyOfFleet money={money} />
      <td>{planWord(fleet)}</td>
      <td className="text-right">{isManaged && <FleetMenu fleet={fleet} />}</td>
    </tr>
  );
}

/** Its money an hour, this month, and by the month's end. */
export function MoneyOfFleet({ money }: { money: FleetsMoney["all"] | null }) {
  return (
    <>
      {(["perHour", "month", "byMonthEnd"] as const).map((column) => (
        <td key={column} className="whitespace-nowrap pr-3 text-right tabular-nums">
          {money?.[column] ?? <span className="text-soft">–</span>}
        </td>
      ))}
    </>
  );
}

function planWord({ isInForce, hasChanges }: FleetSummary) {
  if (!isInForce) return <span className="text-soft">draft</span>;
  return hasChanges ? "in force, draft differs" : "in force";
}
