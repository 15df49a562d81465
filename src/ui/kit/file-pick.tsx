"use client";
import { useId } from "react";

export type FilePickProps = { label: string; hint: string; isBusy: boolean; onFile: (file: File) => void };

/** Picks a CSV file, and the same one again. */
export function FilePick({ label, hint, isBusy, onFile }: FilePickProps) {
  const id = useId();
  return (
    <>
      <div className="flex flex-wrap items-center gap-3">
        <label htmlFor={id} className="font-semibold text-[13px]">
          {label}
        </label>
        <input
          id={id}
          type="file"
          accept=".csv,text/csv"
          disabled={isBusy}
          onChange={(event) => {
            const [file] = event.target.files ?? [];
            event.target.value = "";
            if (file) onFile(file);
          }}
        />
      </div>
      <p className="text-[13px] text-soft">{hint}</p>
    </>
  );
}
