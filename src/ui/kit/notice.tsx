import type { ReactNode } from "react";

export type NoticeProps = { kind: "warning" | "error" | "fine"; children: ReactNode; action?: ReactNode };

const LOOKS = { warning: "border-lit-deep", error: "border-loss", fine: "border-saved" };
const MARKS = { warning: "△", error: "✕", fine: "✓" };
const WORDS = { warning: "Warning:", error: "Error:", fine: "Done:" };

/** Something to know, with the thing to press beside it. */
export function Notice({ kind, children, action }: NoticeProps) {
  return (
    <div
      role={kind === "error" ? "alert" : "status"}
      className={`flex items-start gap-2 rounded-brick border-l-4 bg-raised px-2 py-1 ${LOOKS[kind]}`}
    >
      <span aria-hidden className={kind === "error" ? "text-loss" : "text-soft"}>
        {MARKS[kind]}
      </span>
      <span className="sr-only">{WORDS[kind]}</span>
      <div className="min-w-0 flex-1">{children}</div>
      {action}
    </div>
  );
}
