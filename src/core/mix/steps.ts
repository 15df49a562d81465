import { type CompiledSchedule, expand, type Level } from "../hours";
import { HOUR_S, type Instant } from "../time";
import { type Mix, mostWanted } from "./mix";

/**
 * The mix over a span with the hours that say how many are wanted when: on means what the mix names, and so does time
 * that hours leave alone. Hours that want less than the firm units all the time lower those.
 */
export function overHours(mix: Mix, schedule: CompiledSchedule, { from, to }: Readonly<{ from: Instant; to: Instant }>): Mix {
  const own = mostWanted(mix.wanted);
  const wanted = expand(schedule, from, to, own as Level).map(({ level, ...span }) => ({
    from: (span.from - from) / HOUR_S,
    to: (span.to - from) / HOUR_S,
    units: level ?? own,
  }));
  return { ...mix, wanted, firm: Math.min(mix.firm, mostWanted(wanted)) };
}
