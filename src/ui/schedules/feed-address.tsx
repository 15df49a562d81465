"use client";
import { useEffect, useState } from "react";

/** The address that calendar programs subscribe to, and the same as a file. */
export function FeedAddress({ name }: { name: string }) {
  const path = `/api/schedules/${encodeURIComponent(name)}.ics`;
  const [origin, setOrigin] = useState("");
  const [isCopied, setIsCopied] = useState(false);
  useEffect(() => setOrigin(window.location.origin), []);
  async function copy() {
    await navigator.clipboard?.writeText(origin + path);
    setIsCopied(true);
  }
  return (
    <span className="flex items-center gap-3">
      <input
        readOnly
        aria-label={`Address of the calendar of ${name}`}
        value={origin + path}
        onFocus={(event) => event.target.select()}
        className="h-6 w-[150px] rounded-brick border border-lines bg-raised px-1.5 text-[12px]"
      />
      <button
        type="button"
        onClick={() => void copy()}
        aria-label={`Copy the address of ${name}`}
        className="text-attention text-[13px] hover:underline"
      >
        {isCopied ? "copied" : "copy"}
      </button>
      <a href={path} download={`${name}.ics`} className="text-[13px]" aria-label={`Calendar file of ${name}`}>
        file
      </a>
    </span>
  );
}
