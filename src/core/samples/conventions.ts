import type { Attributes } from "./points";

/** What the series of a metric make together, slot by slot. */
export type Together =
  /** Mean of gauges, sum of sums, mean of histograms. */
  | "plain"
  | "sum"
  /** Per cent that is not idle: of shares by mode, or of seconds by mode. */
  | "busy share"
  | "busy seconds"
  /** The mean of shares, in per cent. */
  | "per cent";

export type Named = Readonly<{ metric: string; together: Together; scale: number }>;

const KILO = 0.001;

/** Names of the OpenTelemetry host-metrics conventions (semantic conventions 1.x, system metrics, hardware metrics), and ours. */
const CONVENTIONS: Readonly<Record<string, Named>> = {
  "system.cpu.utilization": { metric: "cpu", together: "busy share", scale: 1 },
  "system.cpu.time": { metric: "cpu", together: "busy seconds", scale: 1 },
  // By: ours is kB a second.
  "system.network.io": { metric: "network", together: "sum", scale: KILO },
  "system.disk.operations": { metric: "disk.ops", together: "sum", scale: 1 },
  "hw.gpu.utilization": { metric: "graphics", together: "per cent", scale: 1 },
};

/** Our name of a metric, and how its series make one; what has no convention keeps its name. */
export function namedBy(metric: string): Named {
  return CONVENTIONS[metric] ?? { metric, together: metric.startsWith("sessions.") ? "sum" : "plain", scale: 1 };
}

/** The mode of processor time that a series tells of; null where it tells of all. */
export function modeOf(attributes: Attributes): string | null {
  return attributes["cpu.mode"] ?? attributes["system.cpu.state"] ?? attributes.state ?? null;
}

/** Which processor a series tells of. */
export function processorOf(attributes: Attributes): string {
  return attributes["cpu.logical_number"] ?? attributes["system.cpu.logical_number"] ?? attributes.cpu ?? "";
}
