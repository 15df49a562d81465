import type { SelectHTMLAttributes } from "react";

export type WordChoiceProps = SelectHTMLAttributes<HTMLSelectElement> & {
  label: string;
  options: readonly Readonly<{ value: string; label: string }>[];
};

/** A word of a sentence that is pressed to be another one. */
export function WordChoice({ label, options, className = "", ...rest }: WordChoiceProps) {
  return (
    <select aria-label={label} title={label} className={`${WORD} ${className}`} {...rest}>
      {options.map(({ value, label: text }) => (
        <option key={value} value={value}>
          {text}
        </option>
      ))}
    </select>
  );
}

/** How a word looks that can be pressed: as the sentence, underlined. */
export const WORD =
  "field-sizing-content h-[25px] cursor-pointer leading-[20px] appearance-none rounded-none border-0 border-b-2! border-b-attention/50! bg-transparent px-0.5 align-baseline font-semibold hover:bg-raised";
