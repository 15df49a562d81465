import type { EvictionLine } from "@/services/mix";
import { AtLink } from "../as-of/at-link";
import { clockTime, dayTimePlace } from "../kit/when";

export type EvictionLinesProps = Readonly<{
  lines: readonly EvictionLine[];
  currency: string;
  zone: string;
  now: number;
  /** Several fleets stand in one list. */
  hasFleets?: boolean;
}>;

const CAUSES: Readonly<Record<EvictionLine["cause"], string>> = {
  evicted: "taken back",
  gone: "gone, nobody said why",
  unhealthy: "unhealthy, given back",
  "over its cap": "over its cap, given back",
  wanted: "wanted",
};

/** Each loss of a mix as one line: noticed, gone, replaced from where, after how long, at what cost. */
export function EvictionLines({ lines, currency, zone, now, hasFleets = false }: EvictionLinesProps) {
  return (
    <ul className="flex flex-col">
      {lines.map((line) => (
        <li key={line.id} className="flex min-h-[30px] flex-wrap items-center gap-x-2 border-lines border-b py-0.5 text-[13px]">
          <b className="tabular-nums">{dayTimePlace(line.since, zone, now)}</b>
          {hasFleets && <span className="text-soft">{line.fleet}</span>}
          <AtLink href={`/machines/${encodeURIComponent(line.memberId)}`}>{line.member || line.memberId}</AtLink>
          <span>
            {line.pool}, {CAUSES[line.cause]}
            {line.noticedAt !== null && `, noticed ${clockTime(line.noticedAt, zone, true)}`}
          </span>
          <span aria-hidden>→</span>
          <span className={line.closedAt === null && line.orderedAt === null ? "font-semibold text-loss" : ""}>
            {endOf(line, currency)}
          </span>
        </li>
      ))}
    </ul>
  );
}

function endOf(
  { orderedAt, closedAt, filledPool, filledPart, minutes, setupCost, refusals, units }: EvictionLine,
  currency: string,
): string {
  const tries = refusals === 0 ? "" : `, after ${refusals} ${refusals === 1 ? "refusal" : "refusals"}`;
  if (closedAt === null && orderedAt === null)
    return `△ ${units === 1 ? "still missing" : `${units} units still missing`}${tries}`;
  if (filledPart === null) return "not replaced: fewer are wanted";
  const from = filledPart === "spot" ? filledPool : "full price";
  const cost = setupCost === null ? "" : `, ${setupCost.toFixed(4)} ${currency} for its set-up`;
  return closedAt === null || minutes === null
    ? `being replaced from ${from}${tries}${cost}`
    : `replaced from ${from}, up after ${minutes} min${tries}${cost}`;
}
