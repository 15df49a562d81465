"use client";
import { useState } from "react";
import type { FleetDraft } from "@/core/plan";
import { Button } from "../kit/button";
import { Notice } from "../kit/notice";
import { differingFields, merged } from "./merge-drafts";

export type ConflictProps = {
  base: FleetDraft;
  mine: FleetDraft;
  theirs: FleetDraft;
  /** Goes on with what was chosen, on top of theirs. */
  onChosen: (draft: FleetDraft) => void;
};

/** Two people have edited one draft: both are shown, and each difference is chosen by itself or all at once. */
export function Conflict({ base, mine, theirs, onChosen }: ConflictProps) {
  const fields = differingFields(base, mine, theirs);
  const [taken, setTaken] = useState(
    () => new Set(fields.flatMap(({ key, isMineChanged }) => (isMineChanged ? [] : [key]))) as ReadonlySet<string>,
  );
  const choose = (key: string, isTheirs: boolean) => {
    const next = new Set(taken);
    if (isTheirs) next.add(key);
    else next.delete(key);
    setTaken(next);
  };
  return (
    <Notice kind="warning">
      <div className="flex flex-col gap-2">
        <p>
          Somebody else has changed this draft meanwhile. Yours is still here and is not kept yet: choose, and it goes on from
          there.
        </p>
        <table className="w-full text-left">
          <thead>
            <tr className="border-lines border-b text-[13px]">
              <th className="pr-3 font-semibold">What</th>
              <th className="pr-3 font-semibold">Mine</th>
              <th className="font-semibold">Theirs</th>
            </tr>
          </thead>
          <tbody>
            {fields.map(({ key, label, mine: own, theirs: other }) => (
              <tr key={key} className="border-lines border-b align-top">
                <th className="py-1 pr-3 font-semibold">{label}</th>
                {[false, true].map((isTheirs) => (
                  <td key={String(isTheirs)} className="py-1 pr-3">
                    <label className="flex items-start gap-1.5">
                      <input
                        type="radio"
                        name={`conflict ${key}`}
                        className="mt-1"
                        checked={taken.has(key) === isTheirs}
                        onChange={() => choose(key, isTheirs)}
                        aria-label={`${label}: ${isTheirs ? "theirs" : "mine"}`}
                      />
                      <span className="break-words">{isTheirs ? other : own}</span>
                    </label>
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
        <div className="flex flex-wrap gap-2">
          <Button look="strong" onClick={() => onChosen(merged(mine, theirs, taken))}>
            Go on with these
          </Button>
          <Button onClick={() => onChosen(mine)}>All mine</Button>
          <Button onClick={() => onChosen(theirs)}>All theirs</Button>
        </div>
      </div>
    </Notice>
  );
}
