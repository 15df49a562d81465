"use client";
import { useState } from "react";
import { dateRangeSchema } from "@/core/hours";
import type { RowDraft } from "@/core/plan";
import { Button } from "../kit/button";

const DAY_KEYS = ["workdays", "restdays", "mon", "tue", "wed", "thu", "fri", "sat", "sun", "daily", "holidays"] as const;
const USUAL = ["08:00-18:00"];

export type AddRowProps = { rows: readonly RowDraft[]; onRows: (rows: readonly RowDraft[]) => void };

/** Adds a row for a kind of day that has none yet, or for dates. */
export function AddRow({ rows, onRows }: AddRowProps) {
  const [text, setText] = useState("");
  const free = DAY_KEYS.filter((key) => !rows.some(({ day }) => day === key));
  const checked = text.trim() === "" ? null : dateRangeSchema.safeParse(text.trim());
  const error = checked && !checked.success ? checked.error.issues[0]?.message : null;
  return (
    <div className="flex flex-wrap items-center gap-1.5">
      <span className="text-[13px] text-soft">Add a row for</span>
      {free.map((key) => (
        <Button key={key} className="h-6! px-2! text-[13px]" onClick={() => onRows([...rows, { day: key, spans: USUAL }])}>
          {key}
        </Button>
      ))}
      <form
        className="flex items-center gap-1"
        onSubmit={(event) => {
          event.preventDefault();
          if (!checked?.success) return;
          onRows([...rows, { day: checked.data, spans: USUAL }]);
          setText("");
        }}
      >
        <input
          aria-label="A date, or date..date, to add a row for"
          aria-invalid={error ? true : undefined}
          aria-describedby={error ? "add-row-error" : undefined}
          className={`h-6 w-[178px] rounded-brick border bg-raised px-1.5 text-[13px] ${error ? "border-loss" : "border-ink/40"}`}
          placeholder="2027-04-01..2027-04-05"
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
        <Button type="submit" className="h-6! px-2! text-[13px]" disabled={!checked?.success}>
          add dates
        </Button>
      </form>
      {error && (
        <span id="add-row-error" className="text-[13px] text-loss">
          {error}
        </span>
      )}
    </div>
  );
}
