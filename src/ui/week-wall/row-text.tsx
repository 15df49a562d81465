"use client";
import { memo, useState } from "react";
import type { RowDraft } from "@/core/plan";
import { choicesIn } from "./row-words";

export type RowTextProps = {
  /** The row's hours as text: what is on, or what is off. */
  stored: string;
  row: RowDraft;
  label: string;
  error: string | undefined;
  /** Reads a text as the row it means; null while it does not read. */
  read: (row: RowDraft, text: string) => RowDraft | null;
  onRow: (row: RowDraft) => void;
};

/** A row's hours as text, to the minute; the wall follows as it is typed, and the text follows the wall. */
export const RowText = memo(function RowText({ stored, row, label, error, read, onRow }: RowTextProps) {
  /** What is being typed; null while nobody types here. */
  const [typed, setTyped] = useState<string | null>(null);
  const text = typed ?? stored;
  const isUnread = typed !== null && read(row, typed.trim()) === null;
  const id = `spans-${label.replace(/\W+/g, "-")}`;
  const choices = choicesIn(text, typed !== null && typed !== stored);
  const said =
    choices.length > 0 && (error || isUnread)
      ? "it ends before it begins"
      : isUnread
        ? "expected times such as 00:00-07:30"
        : error;
  return (
    <div role="gridcell" className="w-[176px] shrink-0 max-sm:w-full">
      <input
        aria-label={`Hours of ${label}, as text`}
        aria-invalid={said ? true : undefined}
        aria-describedby={said ? id : undefined}
        className={`h-[30px] w-full rounded-brick border bg-raised px-1.5 text-[13px] ${said ? "border-loss" : "border-ink/40"}`}
        value={text}
        title={text}
        placeholder="off all day"
        onFocus={() => setTyped(stored)}
        onBlur={() => setTyped(null)}
        onChange={(event) => {
          setTyped(event.target.value);
          const next = read(row, event.target.value.trim());
          if (next) onRow(next);
        }}
      />
      {choices.length > 0 && (
        <span className="flex flex-wrap gap-1 pt-0.5">
          {choices.map(({ text: meant, words }) => (
            <button
              key={meant}
              type="button"
              className="rounded-brick border border-ink/40 px-1 text-[12px] hover:border-ink"
              onMouseDown={(event) => event.preventDefault()}
              onClick={() => {
                const next = read(row, meant);
                setTyped(null);
                if (next) onRow(next);
              }}
            >
              {words}
            </button>
          ))}
        </span>
      )}
      {said && (
        <p id={id} className="text-[12px] text-loss leading-4">
          {said}
        </p>
      )}
    </div>
  );
});
