"use client";
import { useState } from "react";
import type { FleetsChange } from "@/services/plans";
import { ask } from "../kit/ask";
import { Button } from "../kit/button";
import { Field } from "../kit/field";
import { Notice } from "../kit/notice";
import { useAttempt } from "../kit/use-attempt";
import { ImpactOfFleets } from "./fleets-impact";
import { useImpact } from "./use-impact";

export type ChangeFormProps = {
  change: FleetsChange;
  version?: number;
  /** What is pressed to do it. */
  label: string;
  back: string;
  onDone: () => void;
  onBack: () => void;
};

/** A change of whole fleets with what it does, a word of why, and the press that does it. */
export function ChangeForm({ change, version, label, back, onDone, onBack }: ChangeFormProps) {
  const { impact, problem: unknown } = useImpact(change);
  const { run, isBusy, problem, at } = useAttempt();
  const [why, setWhy] = useState("");
  const stops = impact?.stops.length ?? 0;
  return (
    <form
      className="flex flex-col gap-2"
      onSubmit={async (event) => {
        event.preventDefault();
        const body = { change, why, confirmedStops: stops, ...(version === undefined ? {} : { version }) };
        if (await run(() => ask("/api/fleets/change", { method: "POST", body }))) onDone();
      }}
    >
      {impact ? <ImpactOfFleets impact={impact} /> : <p className="text-soft">{unknown || "Looking who changes hands…"}</p>}
      <Field
        label="Why"
        value={why}
        onChange={(event) => setWhy(event.target.value)}
        placeholder="for whoever reads the log"
        error={at("why")}
      />
      {problem && at("why") === null && <Notice kind="error">{problem.message}</Notice>}
      <div className="flex items-center gap-3">
        <Button type="submit" look="strong" disabled={isBusy || !impact || why.trim() === ""}>
          {stops > 0 ? `${label} and stop ${stops}` : label}
        </Button>
        <Button onClick={onBack}>{back}</Button>
      </div>
    </form>
  );
}
