import type { ButtonHTMLAttributes } from "react";

export type ButtonProps = ButtonHTMLAttributes<HTMLButtonElement> & { look?: "plain" | "strong" | "quiet" };

const LOOKS = {
  plain: "border border-ink/40 bg-raised hover:border-ink",
  strong: "border border-attention bg-attention text-on-strong font-semibold hover:opacity-90",
  quiet: "border border-transparent text-attention underline-offset-2 hover:underline",
};

/** A press. `strong` for the one thing to do next; at most one of them on a screen. */
export function Button({ look = "plain", className = "", type = "button", ...rest }: ButtonProps) {
  return (
    <button
      type={type}
      className={`inline-flex h-[30px] shrink-0 items-center gap-1.5 whitespace-nowrap rounded-brick px-3 disabled:cursor-not-allowed disabled:opacity-55 ${LOOKS[look]} ${className}`}
      {...rest}
    />
  );
}
