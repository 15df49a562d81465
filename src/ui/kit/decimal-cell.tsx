"use client";
import { useState } from "react";

export type DecimalCellProps = Readonly<{
  label: string;
  /** Null: nothing is set, and the placeholder says what counts then. */
  value: number | null;
  placeholder: string;
  title: string;
  isDisabled: boolean;
  /** What may be typed; anything else is said to be wrong, and not taken. */
  isFine: (value: number) => boolean;
  onValue: (value: number | null) => void;
}>;

/** A decimal in a table. What is half typed stays as it is typed until one leaves; what is no such number is not taken. */
export function DecimalCell({ label, value, placeholder, title, isDisabled, isFine, onValue }: DecimalCellProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const isWrong = typed !== null && read(typed, isFine) === undefined;
  return (
    <input
      inputMode="decimal"
      aria-label={label}
      aria-invalid={isWrong || undefined}
      title={isWrong ? "A number, such as 0.05, or nothing" : title}
      className={`h-6 w-20 rounded-brick border bg-raised px-1 text-right ${isWrong ? "border-loss" : "border-lines"}`}
      disabled={isDisabled}
      placeholder={placeholder}
      value={typed ?? (value === null ? "" : String(value))}
      onBlur={() => setTyped(null)}
      onChange={({ target }) => {
        setTyped(target.value);
        const next = read(target.value, isFine);
        if (next !== undefined) onValue(next);
      }}
    />
  );
}

/** Null for nothing, undefined for what is no such number. */
function read(text: string, isFine: (value: number) => boolean): number | null | undefined {
  if (text.trim() === "") return null;
  const value = Number(text.trim().replace(",", "."));
  return Number.isFinite(value) && isFine(value) ? value : undefined;
}
