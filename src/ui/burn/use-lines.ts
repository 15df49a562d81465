"use client";
import { useCallback, useEffect, useRef, useState } from "react";
import type { BurnLine, BurnPage, BurnQuery } from "@/services/cost";
import { ask } from "../kit/ask";
import { useLive } from "../kit/use-live";
import { BURN_LINES, burnParams } from "./address";

const REFRESH_MS = 5000;

/** The lines of Burn, fetched some at a time as they come into sight, and read again every few seconds. */
export function useLines(
  query: BurnQuery,
  first: BurnPage,
): { page: BurnPage; lineAt: (index: number) => BurnLine | undefined; see: (from: number, to: number) => void } {
  const [page, setPage] = useState(first);
  const [chunks, setChunks] = useState<ReadonlyMap<number, readonly BurnLine[]>>(new Map([[0, first.lines]]));
  const key = burnParams(query).toString();
  const seen = useRef({ from: 0, to: BURN_LINES });
  const asked = useRef(new Set<number>());
  const current = useRef(key);

  useEffect(() => {
    current.current = key;
    asked.current.clear();
    setPage(first);
    setChunks(new Map([[0, first.lines]]));
  }, [key, first]);

  const load = useCallback(
    async (chunk: number) => {
      if (asked.current.has(chunk)) return;
      asked.current.add(chunk);
      try {
        const params = new URLSearchParams(key);
        params.set("offset", String(chunk * BURN_LINES));
        params.set("limit", String(BURN_LINES));
        const answer = await ask<BurnPage>(`/api/burn?${params}`);
        if (current.current !== key) return;
        setPage(answer);
        setChunks((old) => new Map(old).set(chunk, answer.lines));
      } catch {
        // What is shown stays; the next reading tries again.
      } finally {
        asked.current.delete(chunk);
      }
    },
    [key],
  );

  const refresh = useCallback(() => {
    const { from, to } = seen.current;
    for (let chunk = Math.floor(from / BURN_LINES); chunk <= Math.floor(to / BURN_LINES); chunk++) void load(chunk);
  }, [load]);
  // What was is over: only now moves by itself.
  const isMoving = query.at === null;
  useEffect(() => {
    if (!isMoving) return;
    const timer = setInterval(refresh, REFRESH_MS);
    return () => clearInterval(timer);
  }, [refresh, isMoving]);
  useLive(["round", "clock", "fleets", "holds", "spend"], refresh, 700);

  const see = useCallback(
    (from: number, to: number) => {
      seen.current = { from, to };
      for (let chunk = Math.floor(from / BURN_LINES); chunk <= Math.floor(to / BURN_LINES); chunk++)
        if (!chunks.has(chunk)) void load(chunk);
    },
    [chunks, load],
  );
  const lineAt = useCallback((index: number) => chunks.get(Math.floor(index / BURN_LINES))?.[index % BURN_LINES], [chunks]);
  return { page, lineAt, see };
}
