"use client";
import { useMemo, useState } from "react";
import { type Calendar, printLine, type Row, readLineRows, rowsToFile, type Schedule, suggestLine } from "@/core/hours";
import type { RowDraft } from "@/core/plan";
import { Button } from "../kit/button";
import { Field } from "../kit/field";

export type LineFieldProps = {
  /** The schedule as checked; null while it does not read. */
  schedule: Schedule | null;
  calendar: Calendar | undefined;
  onRows: (rows: readonly RowDraft[]) => void;
};

/** The whole week as one line in the open notation: it follows the wall, and the wall follows it. */
export function LineField({ schedule, calendar, onRows }: LineFieldProps) {
  const printed = useMemo(() => schedule && printLine(schedule, calendar), [schedule, calendar]);
  const stored = printed?.ok ? printed.line : "";
  /** What is being typed, beside the line as it then was: text that does not read stays until the week is changed elsewhere. */
  const [typed, setTyped] = useState<Readonly<{ text: string; beside: string }> | null>(null);
  const [isFocused, setIsFocused] = useState(false);
  const text = typed && (isFocused || typed.beside === stored) ? typed.text : stored;
  const read = useMemo(() => (text.trim() === "" ? null : readLineRows(text)), [text]);
  const suggestion = read && !read.ok ? suggestLine(text) : null;
  const type = (next: string) => {
    const result = readLineRows(next);
    setTyped({ text: next, beside: stored });
    if (result.ok) onRows(rowsToFile(result.rows as readonly Row[]) as readonly RowDraft[]);
  };
  return (
    <div className="flex items-start gap-2">
      <Field
        label="The same as one line"
        className="flex-1"
        value={text}
        placeholder="Mo-Fr 08:00-18:00; PH off"
        spellCheck={false}
        onFocus={() => setIsFocused(true)}
        onBlur={() => {
          setIsFocused(false);
          if (!read || read.ok) setTyped(null);
        }}
        onChange={(event) => type(event.target.value)}
        error={read && !read.ok ? `character ${read.error.at + 1}: ${read.error.message}` : null}
        hint={
          printed && !printed.ok && text === "" ? (
            <>
              No line can say these hours, because of {printed.row === null ? "what is outside them" : `the row ${printed.label}`}
              : {printed.why}. Typing one replaces the rows.
            </>
          ) : undefined
        }
      />
      {suggestion && (
        <Button className="mt-[21px]" onClick={() => type(suggestion)}>
          Use {suggestion}
        </Button>
      )}
    </div>
  );
}
