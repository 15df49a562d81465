"use client";
import { useState } from "react";
import { WORD } from "../kit/word-choice";

type AmountProps = {
  label: string;
  value: number;
  least?: number;
  most?: number;
  whole?: boolean;
  onAmount: (value: number) => void;
};

/** A number in the sentence: taken once it reads as one and lies in its range; until then it stays as typed. */
export function Amount({ label, value, least = Number.NEGATIVE_INFINITY, most = 525_600, whole = false, onAmount }: AmountProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const read = (text: string): number | null => {
    const number = text.trim() === "" ? Number.NaN : Number(text.replace(",", "."));
    const isFine = Number.isFinite(number) && number >= least && number <= most && (!whole || Number.isInteger(number));
    return isFine ? number : null;
  };
  const isWrong = typed !== null && read(typed) === null;
  return (
    <input
      aria-label={label}
      inputMode="decimal"
      aria-invalid={isWrong ? true : undefined}
      title={isWrong ? `expected a ${whole ? "whole " : ""}number${least > -1 ? ` from ${least}` : ""}` : label}
      className={`${WORD} min-w-[28px] cursor-text text-right ${isWrong ? "border-b-loss! text-loss" : ""}`}
      value={typed ?? String(value)}
      onChange={({ target }) => {
        setTyped(target.value);
        const number = read(target.value);
        if (number !== null) onAmount(number);
      }}
      onBlur={() => setTyped(null)}
    />
  );
}
