"use client";
import { useState } from "react";
import type { PriceRow } from "@/services/cost";
import { ask } from "../kit/ask";
import { Button } from "../kit/button";
import { Field } from "../kit/field";
import { useAttempt } from "../kit/use-attempt";

export type OverrideFormProps = { row: PriceRow; today: string; onDone: () => void };

/** Sets a rate by hand from a day on, or goes back to what the provider says. */
export function OverrideForm({ row, today, onDone }: OverrideFormProps) {
  const attempt = useAttempt();
  const [rate, setRate] = useState(row.rate);
  const [fromDay, setFromDay] = useState(today);
  const [isAsking, setIsAsking] = useState(false);
  // What costs nothing is mostly a slip: it is asked once more.
  const isFree = /^0*(\.0*)?$/.test(rate.trim()) && rate.trim() !== "";
  const save = async (value: string | null) => {
    const body = { key: row.key, rate: value, fromDay };
    if (await attempt.run(() => ask("/api/prices", { method: "POST", body }))) onDone();
  };
  return (
    <form
      className="flex items-start gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (isFree && !isAsking) setIsAsking(true);
        else void save(rate.trim());
      }}
    >
      <Field
        label={`Rate per ${row.unit}`}
        className="w-[150px]"
        value={rate}
        error={attempt.at("rate")}
        onChange={(event) => {
          setRate(event.target.value);
          setIsAsking(false);
        }}
      />
      <Field
        label="From, UTC day"
        type="date"
        className="w-[150px]"
        value={fromDay}
        error={attempt.at("fromDay")}
        onChange={(event) => setFromDay(event.target.value)}
      />
      <Button type="submit" className="mt-[21px]" disabled={attempt.isBusy}>
        {isFree && isAsking ? "It costs nothing: set 0" : "Set by hand"}
      </Button>
      {isFree && isAsking && (
        <p role="alert" className="mt-[24px]">
          At 0 it costs nothing from then on. Is that meant?
        </p>
      )}
      {row.source === "hand" && (
        <Button look="quiet" className="mt-[21px]" disabled={attempt.isBusy} onClick={() => void save(null)}>
          Back to what the provider says
        </Button>
      )}
      {attempt.problem && attempt.problem.fields.length === 0 && (
        <p role="alert" className="mt-[24px] text-loss">
          {attempt.problem.message}
        </p>
      )}
    </form>
  );
}
