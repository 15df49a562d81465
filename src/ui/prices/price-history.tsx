"use client";
import { useEffect, useState } from "react";
import { formatInstant } from "@/core/time";
import type { PriceLines } from "@/services/cost";
import { AnswerError, ask } from "../kit/ask";
import { Button } from "../kit/button";

export type PriceHistoryProps = { of: string };

/** What was said of one price, newest first; older lines as they are asked for. */
export function PriceHistory({ of }: PriceHistoryProps) {
  const [{ lines, isMore }, setRead] = useState<PriceLines>({ lines: [], isMore: false });
  const [before, setBefore] = useState<number | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  useEffect(() => {
    const leaving = new AbortController();
    const query = new URLSearchParams({ key: of, ...(before === null ? {} : { before: String(before) }) });
    ask<PriceLines>(`/api/prices/lines?${query}`, { signal: leaving.signal }).then(
      (older) => {
        setProblem(null);
        setRead((read) => ({ isMore: older.isMore, lines: before === null ? older.lines : [...read.lines, ...older.lines] }));
      },
      (error: unknown) => {
        if (!leaving.signal.aborted) setProblem(error instanceof AnswerError ? error.message : String(error));
      },
    );
    return () => leaving.abort();
  }, [of, before]);
  const oldest = lines.at(-1);
  return (
    <div className="mt-2 max-h-[160px] overflow-auto text-[13px]">
      {problem && <p className="text-loss">{problem}</p>}
      <ul aria-label="History">
        {lines.map((line) => (
          <li key={`${line.source} ${line.validFrom}`}>
            {sinceWords(line.validFrom)}: {line.rate ?? "ends"},{" "}
            {line.source === "hand" ? `by hand, ${line.person}` : "as the provider says"}
          </li>
        ))}
      </ul>
      {isMore && oldest && (
        <Button look="quiet" onClick={() => setBefore(oldest.validFrom)}>
          Older
        </Button>
      )}
    </div>
  );
}

/** The UTC day, and the minute where it is not the day's first. */
function sinceWords(t: number): string {
  const [day = "", minute = ""] = formatInstant(t).slice(0, 16).split("T");
  return minute === "00:00" ? day : `${day} ${minute}`;
}
