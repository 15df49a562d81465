import type { SelectorWarning } from "@/core/selector";
import { cache } from "@/store";
import { type Filtered, filterOf } from "./filter";
import type { Priced } from "./priced";
import type { BurnPage, BurnQuery } from "./query";
import type { Rated, Rates } from "./rates";

/** Which of the rated lines a query shows, by their index, in order. */
export type Picked = Readonly<{
  order: readonly number[];
  /** What of the rest, that does not run, belongs to it. */
  passes: (resource: Filtered) => boolean;
  /** Nothing is left out. */
  isWhole: boolean;
  error: BurnPage["filterError"];
  warnings: readonly SelectorWarning[];
}>;

const PICKS_MAX = 20;

/** Kept for rates that are looked at again; only the two sorts whose order time may change are made anew. */
export function pickOf({ rates, lines }: Priced, query: BurnQuery): Picked {
  const { filters, only, sort, isDescending } = query;
  const key = JSON.stringify([filters, only, sort, isDescending]);
  const kept = cache<Rates, Map<string, Picked>>("picks");
  const picks = kept.get(rates) ?? new Map<string, Picked>();
  kept.set(rates, picks);
  const known = picks.get(key) ?? picked(rates, query);
  if (picks.size >= PICKS_MAX) picks.clear();
  picks.set(key, known);
  if (sort !== "soFar" && sort !== "month") return known;
  return { ...known, order: sorted(known.order, isDescending, (i) => Number(lines[i]?.[sort] ?? 0n)) };
}

function picked({ lines }: Rates, { filters, only, sort, isDescending }: BurnQuery): Picked {
  const running = lines.map(({ resource }) => resource);
  const { passes, error, warnings } = filterOf(filters, running);
  const isIn = ({ resource, isNotDue }: Rated) =>
    passes(resource) && (only === "all" || (only === "halted" ? resource.state === "halted" : isNotDue));
  const byName: number[] = [];
  lines.forEach((line, i) => {
    if (isIn(line)) byName.push(i);
  });
  return {
    order: ordered(byName, lines),
    passes: (resource) => only === "all" && passes(resource),
    isWhole: only === "all" && filters.length === 0,
    error,
    warnings,
  };

  function ordered(order: readonly number[], of: readonly Rated[]): readonly number[] {
    const line = (i: number) => of[i] as Rated;
    if (sort === "name") return isDescending ? [...order].reverse() : order;
    if (sort === "perHour") return sorted(order, isDescending, (i) => Number(line(i).perHour));
    if (sort === "since") return sorted(order, isDescending, (i) => line(i).resource.runSince ?? line(i).resource.since);
    return order;
  }
}

/** The list comes by name, and sorting is stable: what is equal stays so. Doubles tell amounts apart well enough to sort them. */
function sorted(order: readonly number[], isDescending: boolean, keyOf: (i: number) => number): readonly number[] {
  const sign = isDescending ? -1 : 1;
  const keys: number[] = [];
  for (const i of order) keys[i] = keyOf(i);
  return [...order].sort((a, b) => sign * ((keys[a] as number) - (keys[b] as number)));
}
