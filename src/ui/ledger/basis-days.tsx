"use client";
import { useState } from "react";
import { utcDate } from "@/core/time";
import type { Basis } from "@/services/cost";
import { ask } from "../kit/ask";
import { Button } from "../kit/button";
import { Field } from "../kit/field";
import { useAttempt } from "../kit/use-attempt";

export type BasisDaysProps = { basis: Basis; fleetId: number };

/** Says which days "as it ran" rests on, and lets others be chosen: never ones on which a plan was in force. */
export function BasisDays({ basis, fleetId }: BasisDaysProps) {
  const { days, basisWords, isBasisChosen } = basis;
  const [isOpen, setIsOpen] = useState(false);
  const [from, setFrom] = useState(utcDate((days[0] ?? Math.floor(basis.now / 86_400) - 28) * 86_400));
  const [to, setTo] = useState(utcDate((days.at(-1) ?? Math.floor(basis.now / 86_400) - 1) * 86_400));
  const { run, problem, isBusy } = useAttempt();
  const save = (chosen: { from: string; to: string } | null) =>
    run(async () => {
      await ask(`/api/fleets/${fleetId}/basis`, { method: "PUT", body: { basis: chosen } });
      setIsOpen(false);
    });
  return (
    <div className="mt-1 text-[13px] text-soft" data-testid="basis-days">
      As it ran: {basisWords}.{" "}
      <button type="button" aria-expanded={isOpen} onClick={() => setIsOpen(!isOpen)} className="underline underline-offset-4">
        other days
      </button>
      {isOpen && (
        <div className="mt-1 flex flex-wrap items-end gap-2">
          <Field label="From" type="date" value={from} onChange={({ target }) => setFrom(target.value)} />
          <Field label="To" type="date" value={to} onChange={({ target }) => setTo(target.value)} />
          <Button disabled={isBusy} onClick={() => save({ from, to })}>
            Compare with these
          </Button>
          {isBasisChosen && (
            <Button disabled={isBusy} look="quiet" onClick={() => save(null)}>
              The usual 28
            </Button>
          )}
          {problem && <p className="w-full text-loss">{problem.message}</p>}
        </div>
      )}
    </div>
  );
}
