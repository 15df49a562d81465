import { useState } from "react";
import { type Amount, divideHalfEven } from "@/core/pricing";
import type { Figure, Projection } from "@/core/projection";
import { AtLink } from "../as-of/at-link";
import { money } from "./money";
import type { Chosen } from "./months";

export type LedgerLinesProps = {
  projection: Projection;
  month: Chosen;
  /** The machines the projection is of, in its order. */
  machines: readonly Readonly<{ id: string; name: string }>[];
};

const SHOWN = 200;

/** What the figures are made of, machine by machine; worked out once it is opened. */
export function LedgerLines(props: LedgerLinesProps) {
  const [isOpen, setOpen] = useState(false);
  if (props.machines.length === 0) return null;
  return (
    <details className="mt-1 text-[13px]" onToggle={({ currentTarget }) => setOpen(currentTarget.open)}>
      <summary className="cursor-pointer">What it is made of, machine by machine</summary>
      {isOpen && <Lines {...props} />}
    </details>
  );
}

/** The dearest first; each leads to its runs, rates and rules. */
function Lines({ projection, month, machines }: LedgerLinesProps) {
  const { asItRan, alwaysOn, steps } = projection;
  const baseline = asItRan ?? alwaysOn;
  const after = steps.at(-1)?.after ?? baseline;
  const lines = machines
    .map(({ id, name }, i) => ({ id, name, before: lineOf(baseline, i, month), planned: lineOf(after, i, month) }))
    .sort((a, b) => (a.before < b.before ? 1 : a.before > b.before ? -1 : 0));
  return (
    <div className="max-h-[260px] overflow-auto">
      <table className="w-full">
        <thead className="text-left text-soft">
          <tr>
            <th className="font-normal">before commitments</th>
            <th className="text-right font-normal">{asItRan ? "as it ran" : "always on"}</th>
            <th className="text-right font-normal">with plan</th>
          </tr>
        </thead>
        <tbody>
          {lines.slice(0, SHOWN).map(({ id, name, before, planned }) => (
            <tr key={id}>
              <td className="max-w-[140px] truncate">
                <AtLink href={`/machines/${encodeURIComponent(id)}/cost`}>{name}</AtLink>
              </td>
              <td className="text-right">{money(before)}</td>
              <td className="text-right">{money(planned)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {lines.length > SHOWN && <p className="text-soft">and {lines.length - SHOWN} more, cheaper</p>}
    </div>
  );
}

function lineOf({ lines }: Figure, i: number, month: Chosen): Amount {
  const amounts = lines[i] ?? [];
  if (month !== "mean") return amounts[month] ?? (0n as Amount);
  return divideHalfEven(
    amounts.reduce<bigint>((sum, amount) => sum + amount, 0n),
    BigInt(Math.max(1, amounts.length)),
  ) as Amount;
}
