import { slotEnd } from "../idle/slots";
import { modeOf, type Named, namedBy, processorOf } from "./conventions";
import { type Counter, type Read, readCounter } from "./counters";
import type { Attributes, Point } from "./points";

/** A sample of a host at the end of its slot, by our name of the metric. */
export type HostSample = Readonly<{ host: number; metric: string; at: number; value: number }>;

export type Reduced = Readonly<{
  samples: readonly HostSample[];
  /** Series that count on, as they stand now: those that moved. */
  counters: ReadonlyMap<string, Counter>;
  /** Points that are no finite number, or lie at no instant. */
  refused: number;
}>;

export type Reducing = Readonly<{
  stepS: number;
  /** Names a series that counts on; two hosts never share one. */
  keyOf: (point: Point) => string;
  before: ReadonlyMap<string, Counter>;
}>;

type Series = { attributes: Attributes; read: Read };
type Slot = { named: Named; kind: Point["value"]["kind"]; series: Map<string, Series> };
/** By host, metric and the end of the slot. */
type Slots = Map<number, Map<string, Map<number, Slot>>>;

/**
 * Makes samples of points, in any order: series that count on become rates, the series of one metric become one value a
 * slot (docs/model.md, Metrics from outside). Of several points of a series in one slot the latest counts.
 */
export function reducePoints(points: readonly Point[], { stepS, keyOf, before }: Reducing): Reduced {
  const counters = new Map<string, Counter>();
  const slots: Slots = new Map();
  let refused = 0;
  for (const point of inOrder(points)) {
    if (!isFinitePoint(point)) {
      refused++;
      continue;
    }
    let read: Read | null;
    if (point.value.kind === "gauge") read = { value: point.value.value, amount: point.value.value, seconds: 1 };
    else {
      const key = keyOf(point);
      const next = readCounter(point, counters.get(key) ?? before.get(key) ?? null, stepS);
      if (next.after) counters.set(key, next.after);
      read = next.read;
    }
    if (read) take(slots, { point, read, end: slotEnd(point.at, stepS) });
  }
  const samples: HostSample[] = [];
  for (const [host, byMetric] of slots)
    for (const bySlot of byMetric.values())
      for (const [at, slot] of bySlot) {
        const value = together(slot);
        if (value !== null && Number.isFinite(value))
          samples.push({ host, metric: slot.named.metric, at, value: value * slot.named.scale });
      }
  return { samples, counters, refused };
}

/** Points by time; most come so already. */
function inOrder(points: readonly Point[]): readonly Point[] {
  for (let i = 1; i < points.length; i++)
    if ((points[i] as Point).at < (points[i - 1] as Point).at) return [...points].sort((a, b) => a.at - b.at);
  return points;
}

function isFinitePoint({ at, value }: Point): boolean {
  const isFine =
    value.kind === "histogram" ? Number.isFinite(value.sum) && Number.isFinite(value.count) : Number.isFinite(value.value);
  return isFine && Number.isFinite(at) && at > 0;
}

function take(slots: Slots, { point, read, end }: { point: Point; read: Read; end: number }): void {
  const { host, metric, value, attributes } = point;
  const byMetric = roomFor(slots, host, () => new Map<string, Map<number, Slot>>());
  const bySlot = roomFor(byMetric, metric, () => new Map<number, Slot>());
  const slot = roomFor(bySlot, end, (): Slot => ({ named: namedBy(metric), kind: value.kind, series: new Map() }));
  slot.series.set(seriesName(attributes), { attributes, read });
}

/** What a map has under a key; made where it has nothing. */
function roomFor<K, V>(map: Map<K, V>, key: K, make: () => V): V {
  const known = map.get(key);
  if (known !== undefined) return known;
  const made = make();
  map.set(key, made);
  return made;
}

/** One name for the attributes of a series, whatever their order. */
export function seriesName(attributes: Attributes): string {
  const names = Object.keys(attributes);
  if (names.length === 0) return "";
  return names
    .sort()
    .map((name) => `${name}=${attributes[name]}`)
    .join("\u0001");
}

/** The one value of all series of a metric in a slot. */
function together({ named, kind, series }: Slot): number | null {
  const all = [...series.values()];
  const [only] = all;
  if (all.length === 1 && only && (named.together === "plain" || named.together === "sum")) return only.read.value;
  const mean = (values: readonly number[]) =>
    values.length === 0 ? null : values.reduce((sum, value) => sum + value, 0) / values.length;
  const sum = (values: readonly number[]) => values.reduce((total, value) => total + value, 0);
  const values = all.map(({ read }) => read.value);
  switch (named.together) {
    case "sum":
      return sum(values);
    case "per cent":
      return scaled(mean(values), 100);
    case "busy share":
      return scaled(mean(busyShares(all)), 100);
    case "busy seconds": {
      const whole = sum(all.map(({ read }) => read.amount));
      const idle = sum(all.filter(({ attributes }) => modeOf(attributes) === "idle").map(({ read }) => read.amount));
      return whole > 0 ? (100 * (whole - idle)) / whole : null;
    }
    case "plain":
      return kind === "sum" ? sum(values) : mean(values);
  }
}

function scaled(value: number | null, by: number): number | null {
  return value === null ? null : value * by;
}

/** Of each processor the share that is not idle. */
function busyShares(all: readonly Series[]): number[] {
  const byProcessor = new Map<string, { idle: number | null; others: number }>();
  for (const { attributes, read } of all) {
    const name = processorOf(attributes);
    const own = byProcessor.get(name) ?? { idle: null, others: 0 };
    if (modeOf(attributes) === "idle") own.idle = read.value;
    else own.others += read.value;
    byProcessor.set(name, own);
  }
  return [...byProcessor.values()].map(({ idle, others }) => (idle === null ? others : 1 - idle));
}
