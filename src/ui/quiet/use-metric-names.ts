"use client";
import { useEffect, useState } from "react";
import { ask } from "../kit/ask";

type Names = Readonly<{ names: readonly string[]; of: number }>;
/** A list this long may be a part of what there is: others are looked for while one types. */
const PART = 200;
const AFTER_MS = 150;

/** Names of metrics to choose among: those given, and, where there are more than are listed, those that have the text in theirs. */
export function useMetricNames(given: readonly string[], text: string): readonly string[] {
  const [found, setFound] = useState<readonly string[]>([]);
  const isPart = given.length >= PART && text !== "" && !given.includes(text);
  useEffect(() => {
    if (!isPart) return;
    let isOld = false;
    const timer = setTimeout(async () => {
      // Nothing found is no fault worth a word here: what is typed stands all the same.
      const { names } = await ask<Names>(`/api/idle/metrics?like=${encodeURIComponent(text)}`).catch(() => ({ names: [] }));
      if (!isOld) setFound(names);
    }, AFTER_MS);
    return () => {
      isOld = true;
      clearTimeout(timer);
    };
  }, [isPart, text]);
  return isPart ? [...new Set([...found, ...given])] : given;
}
