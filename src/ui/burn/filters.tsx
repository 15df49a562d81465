"use client";
import { useState } from "react";
import { tryParseSelector } from "@/core/selector";
import { Button } from "../kit/button";
import { Field } from "../kit/field";

export type FiltersProps = { filters: readonly string[]; onChange: (filters: readonly string[]) => void };

const WORD = /^[\p{L}\p{N}_.-]+$/u;

/** Filters as chips, each one a word or a selector; all have to hold. What does not parse stays in the field. */
export function Filters({ filters, onChange }: FiltersProps) {
  const [text, setText] = useState("");
  const [error, setError] = useState<string | null>(null);
  function add() {
    const filter = text.trim();
    if (filter === "") return;
    const parsed = tryParseSelector(filter);
    if (!parsed.ok && !WORD.test(filter)) return setError(parsed.error.message);
    setText("");
    setError(null);
    if (!filters.includes(filter)) onChange([...filters, filter]);
  }
  return (
    <form
      className="flex flex-wrap items-start gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        add();
      }}
    >
      <Field
        label="Filter"
        isLabelHidden
        className="w-[300px]"
        placeholder="Filter: a word, or region = fjord-1"
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          setError(null);
        }}
        error={error}
      />
      <Button type="submit">Filter</Button>
      <ul aria-label="Filters in use" className="flex flex-wrap gap-1.5">
        {filters.map((filter) => (
          <li key={filter} className="flex h-[30px] items-center rounded-brick border border-attention bg-raised pl-2">
            <code className="max-w-[260px] truncate text-[13px]" title={filter}>
              {filter}
            </code>
            <button
              type="button"
              aria-label={`Remove the filter ${filter}`}
              className="h-full px-2 hover:bg-lines"
              onClick={() => onChange(filters.filter((other) => other !== filter))}
            >
              ×
            </button>
          </li>
        ))}
      </ul>
    </form>
  );
}
