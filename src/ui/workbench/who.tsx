"use client";
import type { FleetDraft } from "@/core/plan";
import type { Basis } from "@/services/cost";
import { Matches } from "../fleets/matches";
import { SelectorField } from "../fleets/selector-field";

export type WhoProps = { draft: FleetDraft; basis: Basis | null; isOld: boolean; onDraft: (draft: FleetDraft) => void };

/** The first course: who belongs to the fleet. */
export function Who({ draft, basis, isOld, onDraft }: WhoProps) {
  return (
    <div className="flex flex-col gap-3">
      <SelectorField value={draft.select} onChange={(select) => onDraft({ ...draft, select })} basis={basis} isOld={isOld} />
      <Matches basis={basis} isOld={isOld} />
    </div>
  );
}
