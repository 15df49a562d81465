import type { ChangeOfHands, FleetsImpact } from "@/services/plans";

/** What a change of whole fleets does: who changes hands, and what the next round stops and starts. */
export function ImpactOfFleets({ impact }: { impact: FleetsImpact }) {
  const { hands, stops, starts } = impact;
  return (
    <div className="flex flex-col gap-1">
      <p data-testid="fleets-impact">
        {hands.length === 0 ? "No machine changes hands" : `${machines(hands.length)} change hands`}; the next round stops{" "}
        <b>{stops.length}</b>, starts <b>{starts.length}</b>.
      </p>
      {byWay(hands).map(({ way, names }) => (
        <details key={way} open={names.length <= 8}>
          <summary className="cursor-pointer text-[13px]">
            <b>{names.length}</b> {way}
          </summary>
          <p className="max-h-[120px] overflow-auto text-[13px] text-soft">{names.join(", ")}</p>
        </details>
      ))}
      {stops.length > 0 && <p className="text-[13px] text-loss">Stops: {stops.join(", ")}.</p>}
    </div>
  );
}

function machines(n: number): string {
  return n === 1 ? "1 machine would" : `${n} machines would`;
}

function byWay(hands: readonly ChangeOfHands[]): { way: string; names: readonly string[] }[] {
  const ways = new Map<string, string[]>();
  for (const { name, from, to } of hands) {
    const way = `from ${from ?? "no fleet"} to ${to ?? "no fleet: nothing looks after them"}`;
    ways.set(way, [...(ways.get(way) ?? []), name]);
  }
  return [...ways].map(([way, names]) => ({ way, names }));
}
