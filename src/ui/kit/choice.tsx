import { type SelectHTMLAttributes, useId } from "react";

export type ChoiceProps = SelectHTMLAttributes<HTMLSelectElement> & {
  label: string;
  options: readonly Readonly<{ value: string; label: string }>[];
  isLabelBeside?: boolean;
};

/** A labelled choice of one among several. */
export function Choice({ label, options, isLabelBeside = false, className = "", ...rest }: ChoiceProps) {
  const id = useId();
  return (
    <div className={`${isLabelBeside ? "flex items-center gap-2" : ""} ${className}`}>
      <label htmlFor={id} className={isLabelBeside ? "whitespace-nowrap text-soft" : "mb-0.5 block font-semibold text-[13px]"}>
        {label}
      </label>
      <select id={id} className="h-[30px] w-full rounded-brick border border-ink/40 bg-raised px-1.5" {...rest}>
        {options.map((option) => (
          <option key={option.value} value={option.value}>
            {option.label}
          </option>
        ))}
      </select>
    </div>
  );
}
