"use client";
import { useEffect, useRef, useState } from "react";
import type { LifeWeek, LifeWeeks } from "@/services/inventory";
import { ask } from "../kit/ask";
import { useLive } from "../kit/use-live";

/** A moment of scrolling is waited for before anything is asked. */
const REST_MS = 120;
/** As many as the server is asked for at once. */
const AT_ONCE = 200;

/** The last seven days of the machines in sight; each is asked for once, and again when a round has changed things. */
export function useWeeks(ids: readonly string[], at: number | null): (id: string) => LifeWeek | undefined {
  const [weeks, setWeeks] = useState<ReadonlyMap<string, LifeWeek>>(new Map());
  const asked = useRef(new Set<string>());
  const [turn, setTurn] = useState(0);
  const key = ids.join("\n");

  // biome-ignore lint/correctness/useExhaustiveDependencies: another instant is another week of everything
  useEffect(() => {
    asked.current.clear();
    setWeeks(new Map());
  }, [at]);
  useLive(
    ["round"],
    () => {
      asked.current.clear();
      setTurn((n) => n + 1);
    },
    2000,
  );

  // biome-ignore lint/correctness/useExhaustiveDependencies: a round asks for all of them anew
  useEffect(() => {
    const timer = setTimeout(() => {
      const wanted = key.split("\n").filter((id) => id !== "" && !asked.current.has(id));
      for (let i = 0; i < wanted.length; i += AT_ONCE) {
        const part = wanted.slice(i, i + AT_ONCE);
        for (const id of part) asked.current.add(id);
        ask<LifeWeeks>("/api/weeks", { method: "POST", body: { ids: part, at } }).then(
          (answer) => setWeeks((old) => new Map([...old, ...Object.entries(answer.weeks)])),
          () => {
            for (const id of part) asked.current.delete(id);
          },
        );
      }
    }, REST_MS);
    return () => clearTimeout(timer);
  }, [key, at, turn]);
  return (id) => weeks.get(id);
}
