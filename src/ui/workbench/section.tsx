"use client";
import { type ReactNode, useState } from "react";

export type SectionProps = { title: string; summary: string; isOpenFirst: boolean; children: ReactNode };

/** One strip of the plan; it opens and closes. */
export function Section({ title, summary, isOpenFirst, children }: SectionProps) {
  const [isOpen, setIsOpen] = useState(isOpenFirst);
  return (
    <section className="rounded-brick border border-lines">
      <h2>
        <button
          type="button"
          aria-expanded={isOpen}
          onClick={() => setIsOpen(!isOpen)}
          className="flex h-[34px] w-full items-center gap-3 px-3 text-left"
        >
          <span aria-hidden className="w-3">
            {isOpen ? "▾" : "▸"}
          </span>
          <span className="font-semibold text-[15px]">{title}</span>
          <span className="truncate text-soft">{summary}</span>
        </button>
      </h2>
      {isOpen && <div className="border-lines border-t px-3 py-2.5">{children}</div>}
    </section>
  );
}
