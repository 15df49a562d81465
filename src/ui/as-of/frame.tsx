"use client";
import Link from "next/link";
import { usePathname, useSearchParams } from "next/navigation";
import type { ReactNode } from "react";
import { tryParseInstant } from "@/core/time";
import { dayTimePlace } from "../kit/when";
import { nowAddress } from "./address";

export type AsOfFrameProps = { zone: string; children: ReactNode };

/** What is shown is of another instant than now: a coloured edge around it, and the words. */
export function AsOfFrame({ zone, children }: AsOfFrameProps) {
  const path = usePathname();
  const params = useSearchParams();
  const at = tryParseInstant(params.get("at") ?? "");
  return (
    <main
      id="main"
      className={`flex min-h-0 flex-1 flex-col print:overflow-visible ${at === null ? "" : "border-[4px] border-attention border-t-0"}`}
    >
      {at !== null && (
        <p className="flex items-center justify-center gap-4 bg-attention px-4 py-1 text-on-strong" role="status">
          <span>
            as of <b>{dayTimePlace(at, zone)}</b>
          </span>
          <Link href={nowAddress(`${path}?${params}`)} className="font-semibold underline underline-offset-4">
            back to now
          </Link>
        </p>
      )}
      <div className="min-h-0 flex-1 overflow-auto print:overflow-visible">{children}</div>
    </main>
  );
}
