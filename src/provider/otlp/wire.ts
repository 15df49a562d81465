import { Reader } from "protobufjs";

/**
 * A request read straight from its bytes into what is made use of: many times the points a second that a reflected message
 * gives, and no objects for what is passed over. The messages and numbers of their fields are those of `schema.ts`, which the
 * tests hold this to. Times are nanoseconds as numbers.
 */
export type WireRequest = Readonly<{ resourceMetrics: WireResourceMetrics[] }>;
export type WireResourceMetrics = { resource: { attributes: WireKeyValue[] } | null; scopeMetrics: { metrics: WireMetric[] }[] };
export type WireKeyValue = { key: string; value: Record<string, unknown> | null };
export type WireSeries = { dataPoints: WirePoint[]; aggregationTemporality: number; isMonotonic: boolean };
export type WireMetric = {
  name: string;
  gauge: WireSeries | undefined;
  sum: WireSeries | undefined;
  histogram: WireSeries | undefined;
  exponentialHistogram: WireSeries | undefined;
  summary: WireSeries | undefined;
};
export type WirePoint = {
  attributes: WireKeyValue[];
  startTimeUnixNano: number;
  timeUnixNano: number;
  asDouble: number;
  asInt: number;
  count: number;
  sum: number | undefined;
  flags: number;
  value: "asDouble" | "asInt" | undefined;
};

const TWO_32 = 4_294_967_296;
const NONE: WireKeyValue[] = [];

/** More messages than may be read. */
export class TooManyError extends Error {}

/** How many messages may still be made of the request that is being read: reading does not wait, so there is one at a time. */
let left = 0;

function countOne(): void {
  if (--left < 0) throw new TooManyError();
}

/**
 * Reads a request of at most so many messages: an empty one takes two bytes, and what is made of it a hundred. Throws a
 * TooManyError at the first beyond them, and a RangeError or an Error where the bytes are none.
 */
export function readRequest(body: Uint8Array, most = Number.POSITIVE_INFINITY): WireRequest {
  left = most;
  const reader = Reader.create(body);
  const resourceMetrics: WireResourceMetrics[] = [];
  while (reader.pos < reader.len) {
    const tag = reader.uint32();
    if (tag === bytes(1)) resourceMetrics.push(resourceMetricsOf(reader, endOf(reader, reader.len)));
    else reader.skipType(tag & 7);
  }
  return { resourceMetrics };
}

/** The tag of a field that holds bytes: a message or a text. */
function bytes(field: number): number {
  return (field << 3) | 2;
}

/** The tag of a field that holds eight bytes, and of one that holds a whole number. */
const fixed = (field: number) => (field << 3) | 1;
const whole = (field: number) => field << 3;

/** Where the message that begins here ends. */
function endOf(reader: Reader, outer: number): number {
  const length = reader.uint32();
  const end = reader.pos + length;
  if (end > outer) throw new RangeError("a message is longer than what it stands in");
  return end;
}

function resourceMetricsOf(reader: Reader, end: number): WireResourceMetrics {
  countOne();
  const made: WireResourceMetrics = { resource: null, scopeMetrics: [] };
  while (reader.pos < end) {
    const tag = reader.uint32();
    if (tag === bytes(1)) made.resource = { attributes: attributesIn(reader, endOf(reader, end), 1) };
    else if (tag === bytes(2)) made.scopeMetrics.push({ metrics: metricsOf(reader, endOf(reader, end)) });
    else reader.skipType(tag & 7);
  }
  return ended(reader, end, made);
}

function attributesIn(reader: Reader, end: number, field: number): WireKeyValue[] {
  const made: WireKeyValue[] = [];
  while (reader.pos < end) {
    const tag = reader.uint32();
    if (tag === bytes(field)) made.push(keyValueOf(reader, endOf(reader, end)));
    else reader.skipType(tag & 7);
  }
  return ended(reader, end, made);
}

function metricsOf(reader: Reader, end: number): WireMetric[] {
  countOne();
  const made: WireMetric[] = [];
  while (reader.pos < end) {
    const tag = reader.uint32();
    if (tag === bytes(2)) made.push(metricOf(reader, endOf(reader, end)));
    else reader.skipType(tag & 7);
  }
  return ended(reader, end, made);
}

/** Where the points and their attributes stand in each kind of series. */
const POINT_ATTRIBUTES = { number: 7, histogram: 9, exponential: 1, summary: 0 } as const;
type PointKind = keyof typeof POINT_ATTRIBUTES;

function metricOf(reader: Reader, end: number): WireMetric {
  countOne();
  const made: WireMetric = {
    name: "",
    gauge: undefined,
    sum: undefined,
    histogram: undefined,
    exponentialHistogram: undefined,
    summary: undefined,
  };
  while (reader.pos < end) {
    const tag = reader.uint32();
    switch (tag) {
      case bytes(1):
        made.name = reader.string();
        break;
      // One of five: the last given counts.
      case bytes(5):
        only(made, "gauge", seriesOf(reader, endOf(reader, end), "number"));
        break;
      case bytes(7):
        only(made, "sum", seriesOf(reader, endOf(reader, end), "number"));
        break;
      case bytes(9):
        only(made, "histogram", seriesOf(reader, endOf(reader, end), "histogram"));
        break;
      case bytes(10):
        only(made, "exponentialHistogram", seriesOf(reader, endOf(reader, end), "exponential"));
        break;
      case bytes(11):
        only(made, "summary", seriesOf(reader, endOf(reader, end), "summary"));
        break;
      default:
        reader.skipType(tag & 7);
    }
  }
  return ended(reader, end, made);
}

function only(metric: WireMetric, kind: Exclude<keyof WireMetric, "name">, series: WireSeries): void {
  metric.gauge = undefined;
  metric.sum = undefined;
  metric.histogram = undefined;
  metric.exponentialHistogram = undefined;
  metric.summary = undefined;
  metric[kind] = series;
}

function seriesOf(reader: Reader, end: number, kind: PointKind): WireSeries {
  countOne();
  const made: WireSeries = { dataPoints: [], aggregationTemporality: 0, isMonotonic: false };
  while (reader.pos < end) {
    const tag = reader.uint32();
    if (tag === bytes(1)) made.dataPoints.push(pointOf(reader, endOf(reader, end), kind));
    else if (tag === whole(2)) made.aggregationTemporality = reader.int32();
    else if (tag === whole(3)) made.isMonotonic = reader.bool();
    else reader.skipType(tag & 7);
  }
  return ended(reader, end, made);
}

function pointOf(reader: Reader, end: number, kind: PointKind): WirePoint {
  countOne();
  const made: WirePoint = {
    attributes: NONE,
    startTimeUnixNano: 0,
    timeUnixNano: 0,
    asDouble: 0,
    asInt: 0,
    count: 0,
    sum: undefined,
    flags: 0,
    value: undefined,
  };
  const isNumber = kind === "number";
  const hasCount = kind === "histogram" || kind === "exponential";
  const attributes = bytes(POINT_ATTRIBUTES[kind]);
  const flags = whole(isNumber ? 8 : 10);
  while (reader.pos < end) {
    const tag = reader.uint32();
    if (tag === fixed(3)) made.timeUnixNano = unsigned(reader);
    else if (tag === fixed(2) && kind !== "summary") made.startTimeUnixNano = unsigned(reader);
    else if (tag === fixed(4) && isNumber) {
      made.asDouble = reader.double();
      made.value = "asDouble";
    } else if (tag === fixed(6) && isNumber) {
      made.asInt = signed(reader);
      made.value = "asInt";
    } else if (tag === fixed(4) && hasCount) made.count = unsigned(reader);
    else if (tag === fixed(5) && hasCount) made.sum = reader.double();
    else if (tag === attributes && kind !== "summary") {
      if (made.attributes === NONE) made.attributes = [];
      made.attributes.push(keyValueOf(reader, endOf(reader, end)));
    } else if (tag === flags && kind !== "summary") made.flags = reader.uint32();
    else reader.skipType(tag & 7);
  }
  return ended(reader, end, made);
}

function unsigned(reader: Reader): number {
  const low = reader.fixed32();
  return low + reader.fixed32() * TWO_32;
}

function signed(reader: Reader): number {
  const low = reader.fixed32();
  return low + reader.sfixed32() * TWO_32;
}

function keyValueOf(reader: Reader, end: number): WireKeyValue {
  countOne();
  const made: WireKeyValue = { key: "", value: null };
  while (reader.pos < end) {
    const tag = reader.uint32();
    if (tag === bytes(1)) made.key = reader.string();
    else if (tag === bytes(2)) made.value = anyValueOf(reader, endOf(reader, end));
    else reader.skipType(tag & 7);
  }
  return ended(reader, end, made);
}

function anyValueOf(reader: Reader, end: number): Record<string, unknown> {
  let made: Record<string, unknown> = {};
  while (reader.pos < end) {
    const tag = reader.uint32();
    if (tag === bytes(1)) made = { stringValue: reader.string(), value: "stringValue" };
    else if (tag === whole(2)) made = { boolValue: reader.bool(), value: "boolValue" };
    else if (tag === whole(3)) made = { intValue: reader.int64(), value: "intValue" };
    else if (tag === fixed(4)) made = { doubleValue: reader.double(), value: "doubleValue" };
    else reader.skipType(tag & 7);
  }
  return ended(reader, end, made);
}

/** What a message was, where it ended just where it said. */
function ended<T>(reader: Reader, end: number, made: T): T {
  if (reader.pos !== end) throw new RangeError("a message ends in the middle of a field");
  return made;
}
