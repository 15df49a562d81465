"use client";
import Link from "next/link";
import { usePathname, useSearchParams } from "next/navigation";
import { type ReactNode, useEffect, useState } from "react";
import { type Instant, tryParseInstant } from "@/core/time";
import { ask } from "../kit/ask";
import { dayTimePlace } from "../kit/when";
import { nowAddress } from "./address";

export type AsOfFrameProps = { zone: string; children: ReactNode };

/** What is shown is of another instant than now: a coloured edge around it, and the words. */
export function AsOfFrame({ zone, children }: AsOfFrameProps) {
  const path = usePathname();
  const params = useSearchParams();
  const at = tryParseInstant(params.get("at") ?? "");
  const recordsFrom = useRecordsFrom(at !== null);
  return (
    <main
      id="main"
      className={`flex flex-1 flex-col lg:min-h-0 print:overflow-visible ${at === null ? "" : "border-[4px] border-attention border-t-0"}`}
    >
      {at !== null && (
        <p className="flex flex-wrap items-center justify-center gap-x-4 bg-attention px-4 py-1 text-on-strong" role="status">
          <span>
            as of <b>{dayTimePlace(at, zone, 0)}</b>
          </span>
          {recordsFrom !== null && at < recordsFrom && (
            <span>before records begin, on {dayTimePlace(recordsFrom, zone, 0)}: of then nothing is known</span>
          )}
          <Link href={nowAddress(`${path}?${params}`)} className="font-semibold underline underline-offset-4">
            back to now
          </Link>
        </p>
      )}
      <div className="min-w-0 flex-1 lg:relative lg:min-h-0 lg:overflow-auto print:overflow-visible">{children}</div>
    </main>
  );
}

/** When the first change was told of; null while that is not known, or nothing was. Asked once somebody looks back. */
function useRecordsFrom(isWanted: boolean): Instant | null {
  const [from, setFrom] = useState<Instant | null>(null);
  useEffect(() => {
    if (isWanted)
      ask<{ from: Instant | null }>("/api/records").then(
        (answer) => setFrom(answer.from),
        () => {},
      );
  }, [isWanted]);
  return from;
}
