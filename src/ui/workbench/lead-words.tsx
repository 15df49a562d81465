"use client";
import type { LeadBasis } from "@/services/cost";
import { Button } from "../kit/button";
import { WordNumber } from "../kit/word-number";

export type LeadWordsProps = {
  lead: number;
  starts: LeadBasis | null;
  /** What the provider says a start usually takes, seconds; 0 where nothing is known. */
  usualS: number;
  onLead: (minutes: number) => void;
};

/** How much earlier machines are started, with what their measured starts suggest. */
export function LeadWords({ lead, starts, usualS, onLead }: LeadWordsProps) {
  return (
    <>
      <WordNumber label="Lead, minutes" value={lead} max={1440} onNumber={onLead} /> min ahead
      {starts ? (
        <span className="text-[13px] text-soft">
          {" "}
          (95 of 100 starts took under {starts.p95S} s, {starts.count} measured
          {starts.resumes > 0 && `, ${starts.resumes} of them resumed`}
          {starts.suggestedMinutes !== lead && (
            <Button look="quiet" className="h-5! px-1! text-[13px]" onClick={() => onLead(starts.suggestedMinutes)}>
              Use {starts.suggestedMinutes} min
            </Button>
          )}
          )
        </span>
      ) : (
        <span className="text-[13px] text-soft">
          {" "}
          (no start measured yet{usualS > 0 && `; the provider says about ${usualS} s`})
        </span>
      )}
    </>
  );
}
