"use client";
import type { FleetDraft } from "@/core/plan";
import type { PlanVersion } from "@/services/plans";
import { Button } from "../kit/button";
import { dayTimePlace } from "../kit/when";

/** Every plan that was put in force, newest first; an older one can be taken up as the draft. */
export function Versions({ versions, onTake }: { versions: readonly PlanVersion[]; onTake: (draft: FleetDraft) => void }) {
  if (versions.length === 0)
    return <p className="text-soft">Every plan that is put in force is kept here, with who did it and why.</p>;
  return (
    <table className="w-full">
      <thead className="text-left text-[13px]">
        <tr className="h-[26px] border-lines border-b">
          <th className="pr-3 font-semibold">No.</th>
          <th className="pr-3 font-semibold">When</th>
          <th className="pr-3 font-semibold">Who</th>
          <th className="pr-3 font-semibold">Why</th>
          <th>
            <span className="sr-only">Press</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {versions.map(({ number, at, person, why, body }) => (
          <tr key={number} className="h-[30px] border-lines border-b last:border-0">
            <td className="pr-3">{number}</td>
            <td className="whitespace-nowrap pr-3">{dayTimePlace(at, "UTC")}</td>
            <td className="pr-3">{person}</td>
            <td className="pr-3">{why}</td>
            <td className="text-right">
              {body === null ? (
                <span className="text-soft">out of force</span>
              ) : (
                <Button look="quiet" onClick={() => onTake(body)}>
                  Take up as draft
                </Button>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
