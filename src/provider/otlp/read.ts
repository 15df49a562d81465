import { gunzipSync } from "node:zlib";
import type { Message } from "protobufjs";
import { z } from "zod";
import type { Attributes, Point, PointValue } from "@/core/samples";
import { isPlain } from "@/core/text";
import { REQUEST } from "./schema";
import { readRequest, TooManyError, type WireRequest } from "./wire";

/** Inflated, a request may be no larger, and hold no more points. */
export const BYTES_MAX = 64_000_000;
export const POINTS_MAX = 200_000;
const TEXT_MAX = 1_024;
const ATTRIBUTES_MAX = 64;

/** Why a request is not taken, with the HTTP status that the protocol has for it. */
export class OtlpError extends Error {
  constructor(
    readonly status: 400 | 413 | 415,
    message: string,
  ) {
    super(message);
  }
}

/** What a request holds: the attributes of its hosts, and points that name their host by its place. */
export type PushedPoints = Readonly<{
  hosts: readonly Attributes[];
  points: readonly Point[];
  refused: number;
  why: string | null;
}>;

/** Undoes the compression of a body. Throws an OtlpError where it is none we know, is broken, or grows beyond all measure. */
export function inflated(body: Buffer, encoding: string | null): Buffer {
  if (encoding === null || encoding === "" || encoding === "identity") return body;
  if (encoding !== "gzip") throw new OtlpError(415, `content-encoding ${encoding.slice(0, 40)}: expected gzip or none`);
  try {
    return gunzipSync(body, { maxOutputLength: BYTES_MAX });
  } catch (error) {
    if ((error as { code?: string }).code === "ERR_BUFFER_TOO_LARGE")
      throw new OtlpError(413, `inflated it is larger than ${BYTES_MAX} bytes: send less at once`);
    throw new OtlpError(400, "the body is no gzip");
  }
}

/** Reads a request of metrics, protobuf or JSON. Throws an OtlpError where it cannot be understood as a whole. */
export function readPush(body: Buffer, isJson: boolean): PushedPoints {
  const request = (isJson ? fromJson(body) : fromProtobuf(body)) as unknown as Request;
  const hosts: Attributes[] = [];
  const points: Point[] = [];
  const refusals = new Map<string, number>();
  const refuse = (why: string, count: number) => refusals.set(why, (refusals.get(why) ?? 0) + count);
  let seen = 0;
  for (const { resource, scopeMetrics = [] } of request.resourceMetrics ?? []) {
    const attributes = attributesOf(resource?.attributes);
    const host = hosts.push(attributes ?? {}) - 1;
    for (const { metrics = [] } of scopeMetrics) {
      for (const metric of metrics) {
        const { own, kind } = seriesOf(metric);
        seen += own.length;
        if (seen > POINTS_MAX) throw new OtlpError(413, `more than ${POINTS_MAX} points: send less at once`);
        const why =
          attributes === null
            ? LONG
            : kind === null
              ? "summaries are not read: send gauges, sums or histograms"
              : !metric.name || metric.name.length > NAME_MAX
                ? `a metric's name has 1 to ${NAME_MAX} characters`
                : !isPlain(metric.name)
                  ? "a metric's name has a character that is none"
                  : null;
        if (why !== null || kind === null) {
          refuse(why ?? "", own.length);
          continue;
        }
        for (const one of own) {
          const point = pointOf(one, { host, metric: metric.name, kind });
          if (typeof point === "string") refuse(point, 1);
          else if (point) points.push(point);
        }
      }
    }
  }
  const refused = [...refusals.values()].reduce((sum, n) => sum + n, 0);
  const why = refused === 0 ? null : [...refusals].map(([reason, n]) => `${n} x ${reason}`).join("; ");
  return { hosts, points, refused, why };
}

const NAME_MAX = 200;
const LONG = `more than ${ATTRIBUTES_MAX} attributes, or one longer than ${TEXT_MAX} characters`;
/** A point that says that there is no value (data point flags, bit 0). */
const NO_VALUE = 1;
const DELTA = 1;
const NANO = 1e-9;

type Kind =
  | Readonly<{ kind: "gauge" }>
  | Readonly<{ kind: "sum"; isDelta: boolean; isMonotonic: boolean }>
  | Readonly<{ kind: "histogram"; isDelta: boolean }>;

// As the decoder gives them: what a message leaves out stands at the protocol's default.
type Long = number | Readonly<{ toNumber: () => number }>;
type KeyValue = Readonly<{ key: string; value?: Readonly<Record<string, unknown>> | null }>;
type DataPoint = Readonly<{
  attributes?: readonly KeyValue[];
  startTimeUnixNano?: Long;
  timeUnixNano?: Long;
  asDouble?: number;
  asInt?: Long;
  count?: Long;
  sum?: number;
  flags?: number;
  /** Which of the two values is given. */
  value?: string;
}>;
type Series = Readonly<{ dataPoints?: readonly DataPoint[]; aggregationTemporality?: number; isMonotonic?: boolean }>;
type Metric = Readonly<
  { name: string } & Partial<Record<"gauge" | "sum" | "histogram" | "exponentialHistogram" | "summary", Series>>
>;
type Request = Readonly<{
  resourceMetrics?: readonly Readonly<{
    resource?: Readonly<{ attributes?: readonly KeyValue[] }> | null;
    scopeMetrics?: readonly Readonly<{ metrics?: readonly Metric[] }>[];
  }>[];
}>;

function fromProtobuf(body: Buffer): WireRequest {
  try {
    return readRequest(body, thingsIn(body));
  } catch (error) {
    if (error instanceof TooManyError) throw tooMany();
    throw new OtlpError(400, "the body is no ExportMetricsServiceRequest in protobuf");
  }
}

const shape = z.looseObject({ resourceMetrics: z.array(z.looseObject({})).optional() });

/** The least that a message of the protocol takes on the wire, on an average that no exporter is below. */
const BYTES_A_THING = 6;
const THINGS_MAX = 2_000_000;

/** So many messages (points, attributes and what they stand in) a body may hold: what is made of them is bounded by its length. */
function thingsIn(body: Buffer): number {
  return Math.min(THINGS_MAX, 1_000 + Math.floor(body.length / BYTES_A_THING));
}

function tooMany(): OtlpError {
  return new OtlpError(413, `more than ${POINTS_MAX} points, or as many that hold nothing: send less at once`);
}

const OPEN_BRACE = 0x7b;

/** Objects are counted before any is made. */
function checkBraces(body: Buffer): void {
  let left = thingsIn(body);
  for (let at = body.indexOf(OPEN_BRACE); at >= 0; at = body.indexOf(OPEN_BRACE, at + 1)) if (--left < 0) throw tooMany();
}

function fromJson(body: Buffer): Message {
  checkBraces(body);
  try {
    return REQUEST.fromObject(shape.parse(JSON.parse(body.toString("utf8"))));
  } catch {
    throw new OtlpError(400, "the body is no ExportMetricsServiceRequest in JSON");
  }
}

function seriesOf({ gauge, sum, histogram, exponentialHistogram, summary }: Metric): {
  own: readonly DataPoint[];
  kind: Kind | null;
} {
  if (gauge) return { own: gauge.dataPoints ?? [], kind: { kind: "gauge" } };
  if (sum)
    return {
      own: sum.dataPoints ?? [],
      kind: { kind: "sum", isDelta: sum.aggregationTemporality === DELTA, isMonotonic: sum.isMonotonic === true },
    };
  const either = histogram ?? exponentialHistogram;
  if (either)
    return { own: either.dataPoints ?? [], kind: { kind: "histogram", isDelta: either.aggregationTemporality === DELTA } };
  return { own: summary?.dataPoints ?? [], kind: null };
}

/** The point; null where it says that there is none, a reason where it cannot be taken. */
function pointOf(one: DataPoint, { host, metric, kind }: { host: number; metric: string; kind: Kind }): Point | string | null {
  if (((one.flags ?? 0) & NO_VALUE) !== 0) return null;
  const attributes = attributesOf(one.attributes);
  if (attributes === null) return LONG;
  const at = numberOf(one.timeUnixNano) * NANO;
  if (!(at > 0)) return "a point has no time";
  const from = numberOf(one.startTimeUnixNano) * NANO;
  const value = readValue(one, kind);
  if (value === null) return "a point has no value";
  return { host, metric, attributes, from: from > 0 ? from : null, at, value };
}

function readValue(one: DataPoint, of: Kind): PointValue | null {
  if (of.kind === "histogram")
    return one.sum === undefined || one.sum === null
      ? null
      : { kind: "histogram", isDelta: of.isDelta, sum: one.sum, count: numberOf(one.count) };
  const value = one.value === "asInt" ? numberOf(one.asInt) : one.value === "asDouble" ? one.asDouble : undefined;
  if (value === undefined || !Number.isFinite(value)) return null;
  return of.kind === "gauge"
    ? { kind: "gauge", value }
    : { kind: "sum", isDelta: of.isDelta, isMonotonic: of.isMonotonic, value };
}

function numberOf(long: Long | undefined): number {
  return long === undefined ? 0 : typeof long === "number" ? long : long.toNumber();
}

// Without what every object has: a rule may ask for an attribute called "constructor".
const NONE: Attributes = Object.create(null);

/** Attributes as texts; null where there are too many, or one is too long. */
function attributesOf(list: readonly KeyValue[] | undefined): Attributes | null {
  if (!list || list.length === 0) return NONE;
  if (list.length > ATTRIBUTES_MAX) return null;
  const attributes: Record<string, string> = Object.create(null);
  for (const { key, value } of list) {
    const text = textOf(value);
    if (key.length > TEXT_MAX || text.length > TEXT_MAX) return null;
    // One that no database keeps is left out, and its point with the others stands.
    if (isPlain(key) && isPlain(text)) attributes[key] = text;
  }
  return attributes;
}

function textOf(value: KeyValue["value"]): string {
  if (!value) return "";
  const { stringValue, boolValue, intValue, doubleValue } = value as Record<string, unknown>;
  const which = (value as { value?: string }).value;
  if (which === "stringValue") return String(stringValue);
  if (which === "boolValue") return String(boolValue);
  if (which === "intValue") return String(intValue);
  return which === "doubleValue" ? String(doubleValue) : "";
}
