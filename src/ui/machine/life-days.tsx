"use client";
import { useRouter } from "next/navigation";
import { useCallback, useEffect, useState } from "react";
import { type Samples, unpackSamples } from "@/core/idle";
import { formatInstant, type Instant } from "@/core/time";
import type { MachineDays } from "@/services/cost";
import { AnswerError, ask } from "../kit/ask";
import { Button } from "../kit/button";
import { useLive } from "../kit/use-live";
import { Axis, METRICS } from "./life-axis";
import { type Span, STATES } from "./life-rows";

/** Four weeks of a machine on one axis: what it was over what was due, what happened, its metrics, its cost per day. Drag to zoom. */
export function LifeDays({ id, zone, at }: { id: string; zone: string; at: Instant | null }) {
  const router = useRouter();
  const [days, setDays] = useState<MachineDays | null>(null);
  const [samples, setSamples] = useState<Samples | null>(null);
  const [problem, setProblem] = useState("");
  const [zoom, setZoom] = useState<Span | null>(null);
  const path = `/api/machines/${encodeURIComponent(id)}/days`;
  const load = useCallback(async () => {
    try {
      setDays(await ask<MachineDays>(path));
    } catch (error) {
      setProblem(error instanceof AnswerError ? error.message : String(error));
    }
  }, [path]);
  useEffect(() => void load(), [load]);
  useLive(["round", "holds"], () => void load(), 2_000);
  useEffect(() => {
    const left = new AbortController();
    const query = new URLSearchParams([["machine", id], ...METRICS.map((metric) => ["metric", metric])]);
    fetch(`/api/idle/samples?${query}`, { signal: left.signal })
      .then(async (response) => {
        if (response.ok) setSamples(unpackSamples(await response.arrayBuffer()));
      })
      .catch(() => {});
    return () => left.abort();
  }, [id]);
  if (!days) return <p className="mb-3 h-[260px] text-soft">{problem || "Reading its last four weeks…"}</p>;
  const view = zoom ?? { from: days.from, to: days.to };
  return (
    <figure aria-label="Its last four weeks" className="mb-4 min-w-0">
      <Axis
        days={days}
        samples={samples}
        view={view}
        zone={zone}
        at={at}
        onZoom={setZoom}
        onInstant={(t) => router.push(`/machines/${encodeURIComponent(id)}?at=${formatInstant(t)}`)}
      />
      <figcaption className="flex flex-wrap items-center gap-x-4 gap-y-0.5 pt-1 text-[12px] text-soft">
        {Object.entries(STATES).map(([key, { fill, words }]) => (
          <span key={key} className="flex items-center gap-1">
            <span aria-hidden className="inline-block h-2.5 w-3" style={{ background: fill }} />
            {words}
          </span>
        ))}
        <span>
          <span aria-hidden>◐ </span>warned <span aria-hidden>● </span>tripped <span aria-hidden>▣ </span>hold{" "}
          <span aria-hidden>▲ </span>started by a person
        </span>
        {zoom ? (
          <Button look="quiet" className="h-[22px]! text-[12px]" onClick={() => setZoom(null)}>
            All four weeks
          </Button>
        ) : (
          <span>Drag to look closer; press an instant for its reasons.</span>
        )}
      </figcaption>
    </figure>
  );
}
