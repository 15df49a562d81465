"use client";
import { useCallback, useEffect, useState } from "react";
import { formatInstant, type Instant } from "@/core/time";
import type { StrayPage } from "@/services/cost";
import { AtLink } from "../as-of/at-link";
import { ask } from "../kit/ask";
import { useLive } from "../kit/use-live";
import { StraySums } from "../strays/stray-sums";

/** How many strays there are and what they cost, and the way to them; read after the page, so that it waits for nothing. */
export function StraysLine({ at }: { at: Instant | null }) {
  const [page, setPage] = useState<StrayPage | null>(null);
  const [isMissing, setMissing] = useState(false);
  const load = useCallback(() => {
    ask<StrayPage>(`/api/strays${at === null ? "" : `?at=${formatInstant(at)}`}`).then(
      (answer) => {
        setPage(answer);
        setMissing(false);
      },
      () => setMissing(true),
    );
  }, [at]);
  useEffect(load, [load]);
  useLive(["round", "fleets", "spend"], load, 3000);
  // Its line is there from the first: rows that move under the pointer are pressed by mistake.
  if (!page) return <p className="text-soft">{isMissing ? "Strays could not be counted." : "Counting strays."}</p>;
  return (
    <p data-testid="strays-line">
      {page.strays.length === 0 ? (
        "No strays."
      ) : (
        <>
          <AtLink href="/strays">Strays</AtLink>, before commitments: <StraySums page={page} />{" "}
          <span className="whitespace-nowrap">
            <AtLink href="/odd">What is odd</AtLink>
          </span>
        </>
      )}
    </p>
  );
}
