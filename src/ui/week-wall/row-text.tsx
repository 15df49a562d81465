"use client";
import { useEffect, useState } from "react";
import type { RowDraft } from "@/core/plan";
import { rowFromText, rowText } from "../workbench/draft";

export type RowTextProps = { row: RowDraft; label: string; error: string | undefined; onRow: (row: RowDraft) => void };

/** A row's spans as text, to the minute; the wall follows as it is typed. */
export function RowText({ row, label, error, onRow }: RowTextProps) {
  const stored = rowText(row);
  const [text, setText] = useState(stored);
  const [isTyping, setIsTyping] = useState(false);
  useEffect(() => {
    if (!isTyping) setText(stored);
  }, [stored, isTyping]);
  const id = `spans-${label.replace(/\W+/g, "-")}`;
  return (
    <div role="gridcell" className="w-[148px] shrink-0">
      <input
        aria-label={`Hours of ${label}, as text`}
        aria-invalid={error ? true : undefined}
        aria-describedby={error ? id : undefined}
        className={`h-[30px] w-full rounded-brick border bg-raised px-1.5 text-[13px] ${error ? "border-loss" : "border-ink/40"}`}
        value={text}
        placeholder="off all day"
        onFocus={() => setIsTyping(true)}
        onBlur={() => setIsTyping(false)}
        onChange={(event) => {
          setText(event.target.value);
          onRow(rowFromText(row, event.target.value.trim()));
        }}
      />
      {error && (
        <p id={id} className="text-[12px] text-loss leading-4">
          {error}
        </p>
      )}
    </div>
  );
}
