import { type InputHTMLAttributes, type ReactNode, useId } from "react";

export type FieldProps = InputHTMLAttributes<HTMLInputElement> & {
  label: string;
  /** What is wrong with the text, where something is. It stands at the field. */
  error?: string | null | undefined;
  hint?: ReactNode;
  isLabelHidden?: boolean;
};

/** A labelled line of text with its error. */
export function Field({ label, error, hint, isLabelHidden = false, className = "", id, ...rest }: FieldProps) {
  const own = useId();
  const inputId = id ?? own;
  return (
    <div className={className}>
      <label htmlFor={inputId} className={isLabelHidden ? "sr-only" : "mb-0.5 block font-semibold text-[13px]"}>
        {label}
      </label>
      <input
        id={inputId}
        aria-invalid={error ? true : undefined}
        aria-describedby={error ? `${inputId}-error` : undefined}
        className={`h-[30px] w-full rounded-brick border bg-raised px-2 ${error ? "border-loss" : "border-ink/40"}`}
        {...rest}
      />
      {error ? (
        <p id={`${inputId}-error`} className="mt-0.5 text-[13px] text-loss">
          {error}
        </p>
      ) : (
        hint && <p className="mt-0.5 text-[13px] text-soft">{hint}</p>
      )}
    </div>
  );
}
