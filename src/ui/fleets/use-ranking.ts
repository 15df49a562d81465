"use client";
import { useState } from "react";

export type Ranking = Readonly<{
  /** The numbers in the order that is looked at. */
  ids: readonly number[];
  isChanged: boolean;
  /** Puts one in the place of another, or a step up (-1) or down (1). */
  place: (id: number, at: number) => void;
  step: (id: number, by: -1 | 1) => void;
  reset: () => void;
}>;

/** An order that is tried out before it is stored; one that is stored anew meanwhile goes before it. */
export function useRanking(stored: readonly number[]): Ranking {
  const [tried, setTried] = useState<{ of: string; ids: readonly number[] }>({ of: "", ids: [] });
  const of = stored.join(" ");
  const ids = tried.of === of ? tried.ids : stored;
  const place = (id: number, at: number) => {
    const rest = ids.filter((other) => other !== id);
    const to = Math.max(0, Math.min(rest.length, at));
    setTried({ of, ids: [...rest.slice(0, to), id, ...rest.slice(to)] });
  };
  return {
    ids,
    isChanged: ids.join(" ") !== of,
    place,
    step: (id, by) => place(id, ids.indexOf(id) + by),
    reset: () => setTried({ of: "", ids: [] }),
  };
}
