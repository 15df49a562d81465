"use client";
import { type ReactNode, useState } from "react";
import { centsOf, type MoneyView } from "@/core/pricing";
import { type LeverKind, monthlyOf, type Projection } from "@/core/projection";
import type { FirstRound } from "./first-round";
import { LedgerLines, type LedgerLinesProps } from "./lines";
import { shownDifference } from "./money";
import { type Chosen, Months, monthName } from "./months";
import { Waterfall } from "./waterfall";

export type LedgerProps = {
  projection: Projection;
  first: FirstRound;
  currency: string;
  view: MoneyView;
  isOld: boolean;
  /** The days that "as it ran" rests on, and how others are chosen. */
  basis: ReactNode;
  /** How the projection of the days before compared with the meter; null where nothing is to compare yet. */
  check: ReactNode;
  machines: LedgerLinesProps["machines"];
  warnings: readonly ReactNode[];
  differences: readonly string[];
  /** What to press, and why it cannot be where it cannot. */
  press: ReactNode;
};

/** What the plan is worth, month by month and lever by lever, what its first round does, and what is odd about it. */
export function Ledger(props: LedgerProps) {
  const { projection, first, currency, view, isOld, basis, check, machines, warnings, differences, press } = props;
  const [month, setMonth] = useState<Chosen>("mean");
  const hasHours = projection.steps.length > 0;
  const baseline = projection.asItRan ?? projection.alwaysOn;
  const last = projection.steps.at(-1)?.after ?? baseline;
  const [before, after] = [monthlyOf(baseline, month, view), monthlyOf(last, month, view)];
  return (
    <aside aria-label="Ledger" aria-busy={isOld} className={`flex flex-col gap-3 ${isOld ? "opacity-70" : ""}`}>
      <section aria-label="Worth a month">
        <h2 className="font-semibold text-[15px]">
          {hasHours ? (
            <>
              {centsOf(before) >= centsOf(after) ? "Saves" : "Costs more by"}{" "}
              <span className={centsOf(before) >= centsOf(after) ? "text-saved" : "text-loss"}>
                {centsOf(before) >= centsOf(after) ? shownDifference(before, after) : shownDifference(after, before)}
              </span>{" "}
              {currency} {month === "mean" ? "a month" : `in ${monthName(projection, month)}`}
            </>
          ) : (
            "No hours yet"
          )}
        </h2>
        <Waterfall projection={projection} month={month} view={view} currency={currency} />
        <Months projection={projection} view={view} chosen={month} onChoose={setMonth} />
        {basis}
        <LedgerLines projection={projection} month={month} machines={machines} />
      </section>
      {check}
      <section aria-label="First round">
        <h2 className="font-semibold text-[15px]">First round, if put in force now</h2>
        <FirstRoundList first={first} levers={projection.steps.map(({ lever }) => lever)} />
      </section>
      {warnings.length > 0 && (
        <section aria-label="Warnings" className="flex flex-col gap-1.5">
          {warnings}
        </section>
      )}
      <section aria-label="Against the plan in force">
        <h2 className="font-semibold text-[15px]">Against the plan in force</h2>
        {differences.length === 0 ? (
          <p className="text-soft">No difference.</p>
        ) : (
          differences.map((said) => <p key={said}>{said}</p>)
        )}
      </section>
      {press}
    </aside>
  );
}

/** What hours do at once, and what levers do besides that no first round of hours tells. */
function FirstRoundList({ first, levers }: { first: FirstRound; levers: readonly LeverKind[] }) {
  if (levers.length === 0) return <p className="text-soft">Choose or paint hours to see which machines would stop.</p>;
  const { stops, starts, resizes, lowered, guarded, claimed } = first;
  const names = (list: readonly { name: string }[]) => list.map(({ name }) => name).join(", ");
  return (
    <div className="flex flex-col gap-1" data-testid="first-round">
      {stops.length + starts.length + resizes.length === 0 && levers.includes("hours") && (
        <p>Hours change nothing at once: every machine is as they want it.</p>
      )}
      {levers.includes("mix") && <p>The mix asks for machines and gives others back: which, the press says first.</p>}
      {levers.includes("idle") && <p>Idle alarms look from then on, and turn off what has been idle as long as they say.</p>}
      {stops.length > 0 && (
        <details>
          <summary className="cursor-pointer">
            Stops <b>{stops.length}</b>
          </summary>
          <p className="text-[13px] text-soft">{names(stops)}</p>
        </details>
      )}
      {starts.length > 0 && (
        <details>
          <summary className="cursor-pointer">
            Starts <b>{starts.length}</b>
          </summary>
          <p className="text-[13px] text-soft">{names(starts)}</p>
        </details>
      )}
      {resizes.map(({ resource, level }) => (
        <p key={resource.id}>
          {resource.name}: {resource.level} → <b>{level}</b>
        </p>
      ))}
      {lowered.map(({ resource, had, most }) => (
        <p key={`lowered ${resource.id}`} className="font-semibold">
          {resource.name} never has more than {most} of the {had} it has had
        </p>
      ))}
      {guarded > 0 && <p className="text-soft">{guarded} guarded, never touched</p>}
      {claimed > 0 && <p className="text-soft">{claimed} belong to a fleet above and are left to it</p>}
    </div>
  );
}
