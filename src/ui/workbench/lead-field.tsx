"use client";
import type { LeadBasis } from "@/services";
import { Button } from "../kit/button";
import { Field } from "../kit/field";

export type LeadFieldProps = {
  lead: number;
  starts: LeadBasis | null;
  /** What the provider says a start usually takes, seconds; 0 where nothing is known. */
  usualS: number;
  onLead: (minutes: number) => void;
};

/** How much earlier machines are started, with what their measured starts suggest. */
export function LeadField({ lead, starts, usualS, onLead }: LeadFieldProps) {
  return (
    <div className="flex items-start gap-1">
      <Field
        label="Lead, minutes"
        type="number"
        min={0}
        max={1440}
        className="w-[110px]"
        value={String(lead)}
        onChange={(event) => onLead(Math.max(0, Math.min(1440, Math.round(Number(event.target.value) || 0))))}
      />
      {!starts && (
        <p className="mt-[21px] max-w-[170px] text-[12px] text-soft leading-4">
          No start measured yet{usualS > 0 && `; the provider says about ${usualS} s`}.
        </p>
      )}
      {starts && (
        <div className="mt-[21px] max-w-[210px] text-[12px] text-soft leading-4">
          95 of 100 starts took under {starts.p95S} s ({starts.count} measured
          {starts.resumes > 0 && `, ${starts.resumes} of them resumed`}).
          {starts.suggestedMinutes !== lead && (
            <Button look="quiet" className="h-5! px-1! text-[13px]" onClick={() => onLead(starts.suggestedMinutes)}>
              Use {starts.suggestedMinutes} min
            </Button>
          )}
        </div>
      )}
    </div>
  );
}
