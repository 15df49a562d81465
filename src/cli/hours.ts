import { expand, explain, nextEdges } from "@/core/hours";
import { formatInstant } from "@/core/time";
import { readSchedule } from "./files";
import { instantFlag, readFlags, spanFlags, wholeFlag } from "./flags";

/** `hours expand --plan F --schedule N --from T --to T` */
export function hoursExpand(args: readonly string[]): unknown {
  const flags = readFlags(args, { plan: "required", schedule: "required", from: "required", to: "required" });
  const { from, to } = spanFlags(flags);
  const intervals = expand(readSchedule(flags.plan, flags.schedule), from, to);
  return {
    schedule: flags.schedule,
    intervals: intervals.map((interval) => ({ ...interval, from: formatInstant(interval.from), to: formatInstant(interval.to) })),
  };
}

/** `hours next --plan F --schedule N --at T --count K` */
export function hoursNext(args: readonly string[]): unknown {
  const flags = readFlags(args, { plan: "required", schedule: "required", at: "required", count: "required" });
  const at = instantFlag("at", flags.at);
  const count = wholeFlag("count", flags.count, 1);
  return {
    edges: nextEdges(readSchedule(flags.plan, flags.schedule), at, count).map((edge) => ({
      ...edge,
      at: formatInstant(edge.at),
    })),
  };
}

/** `hours explain --plan F --schedule N --at T` */
export function hoursExplain(args: readonly string[]): unknown {
  const flags = readFlags(args, { plan: "required", schedule: "required", at: "required" });
  return explain(readSchedule(flags.plan, flags.schedule), instantFlag("at", flags.at));
}
