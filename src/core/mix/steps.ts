import { type Target, unitsOf } from "../targets";
import { HOUR_S, type Instant } from "../time";
import { type Mix, mostWanted } from "./mix";

/**
 * The mix over a span with what says how many are wanted when; time that is left alone wants what the mix names. A target
 * that wants less than the firm units all the time lower those.
 */
export function overTarget(mix: Mix, target: Target, { from, to }: Readonly<{ from: Instant; to: Instant }>): Mix {
  const own = mostWanted(mix.wanted);
  const wanted = target.over({ from, to }).map((span) => ({
    from: (span.from - from) / HOUR_S,
    to: (span.to - from) / HOUR_S,
    units: unitsOf(span) ?? own,
  }));
  return { ...mix, wanted, firm: Math.min(mix.firm, mostWanted(wanted)) };
}
