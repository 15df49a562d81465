"use client";
import { useMemo } from "react";
import type { ProjectionCheck } from "@/services/cost";
import { Button } from "../kit/button";
import { BasisDays } from "../ledger/basis-days";
import { Check } from "../ledger/check";
import { Ledger } from "../ledger/ledger";
import type { Edited } from "./use-edited";

export type WorthProps = Readonly<{
  edited: Edited;
  fleetId: number;
  /** How its projection compared with the meter; null where nothing is to compare yet. */
  check: ProjectionCheck | null;
  onForce: () => void;
}>;

/** What the draft is worth, whom it stops first, and the press that puts it in force. */
export function Worth({ edited, fleetId, check, onForce }: WorthProps) {
  const { projection, first, basis, isOld, warnings, changes } = edited;
  const machines = useMemo(() => (basis?.lines ?? []).map(({ resource }) => ({ id: resource.id, name: resource.name })), [basis]);
  return (
    <div
      id="ledger"
      tabIndex={-1}
      className="border-lines bg-raised px-4 py-3 max-lg:border-t lg:relative lg:min-h-0 lg:overflow-auto lg:border-l"
    >
      {projection && first && basis ? (
        <Ledger
          projection={projection}
          first={first}
          currency={basis.currency}
          view={basis.view}
          isOld={isOld}
          basis={<BasisDays key={basis.days.join()} basis={basis} fleetId={fleetId} />}
          check={check && <Check check={check} currency={basis.currency} />}
          machines={machines}
          warnings={warnings}
          differences={changes}
          press={
            <Button look="strong" className="justify-center" onClick={onForce} disabled={changes.length === 0}>
              Put in force…
            </Button>
          }
        />
      ) : (
        <p className="text-soft">Reading what these machines cost and how they ran…</p>
      )}
    </div>
  );
}
