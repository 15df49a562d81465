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

type Series = { name: string; attributes: Attributes; read: Read };
/** Mostly a metric has one series and one slot in a push: a map of others is made where there are any. */
type Slot = {
  end: number;
  named: Named;
  kind: Point["value"]["kind"];
  first: Series;
  others: Map<string, Series> | null;
  next: Slot | null;
};
/** By host and metric; slots of one metric hang together, in order of time. */
type Slots = Map<number, Map<string, { first: Slot; last: Slot }>>;

/**
 * Makes samples of points, in any order: series that count on become rates, the series of one metric become one value a
 * slot (docs/model.md, Metrics from outside). Of several points of a series in one slot the latest counts.
 */
export function reducePoints(points: readonly Point[], { stepS, keyOf, before }: Reducing): Reduced {
  const counters = new Map<string, Counter>();
  const slots: Slots = new Map();
  const fine = points.every(isFinitePoint) ? points : points.filter(isFinitePoint);
  for (const point of inOrder(fine)) {
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
    for (const { first } of byMetric.values())
      for (let slot: Slot | null = first; slot; slot = slot.next) {
        const value = together(slot);
        const { metric, scale } = slot.named;
        if (value !== null && Number.isFinite(value)) samples.push({ host, metric, at: slot.end, value: value * scale });
      }
  return { samples, counters, refused: points.length - fine.length };
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
  const { host, metric, attributes } = point;
  const series: Series = { name: seriesName(attributes), attributes, read };
  let byMetric = slots.get(host);
  if (!byMetric) {
    byMetric = new Map();
    slots.set(host, byMetric);
  }
  const own = byMetric.get(metric);
  if (!own) {
    const only = newSlot(point, { series, end });
    byMetric.set(metric, { first: only, last: only });
    return;
  }
  // Points come by time: one belongs to the last slot there is, or to a new one.
  const slot = own.last;
  if (slot.end !== end) {
    own.last = newSlot(point, { series, end });
    slot.next = own.last;
  } else if (slot.first.name === series.name) slot.first = series;
  else {
    slot.others ??= new Map();
    slot.others.set(series.name, series);
  }
}

function newSlot({ metric, value }: Point, { series, end }: { series: Series; end: number }): Slot {
  return { end, named: namedBy(metric), kind: value.kind, first: series, others: null, next: null };
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
function together({ named, kind, first, others }: Slot): number | null {
  if (!others && (named.together === "plain" || named.together === "sum")) return first.read.value;
  const all = [first, ...(others?.values() ?? [])];
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
