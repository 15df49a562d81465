import type { Instant } from "../time";

import { type ColumnBuffer, columnBuffer, columnOfNumbers, type Slots } from "./slots";
import { type TripSpan, withoutTrips } from "./would-be";

/** Samples of several resources over one span, as they cross to a browser: of each metric, resource by resource, a number a slot. */
export type SamplesHead = Readonly<{
  stepS: number;
  firstEnd: Instant;
  count: number;
  /** Where the first sample of any lies: before it nothing is known. */
  knownFrom: Instant;
  metrics: readonly string[];
  /** How late each of the metrics usually comes, in seconds; null where that is not known. */
  latenessS: readonly (number | null)[];
  /** `trips`: when idle alarms had it off. */
  resources: readonly Readonly<{ id: string; name: string; owner: string | null; trips: readonly TripSpan[] }>[];
}>;
export type Samples = Readonly<{ head: SamplesHead; values: Float32Array }>;

const ALIGN = 4;

/** One piece of bytes: the length of the head, the head as JSON, then the numbers, little-endian; NaN is a missing sample. */
export function packSamples({ head, values }: Samples): Uint8Array<ArrayBuffer> {
  const text = new TextEncoder().encode(JSON.stringify(head));
  const begin = ALIGN + Math.ceil(text.length / ALIGN) * ALIGN;
  const bytes = new Uint8Array(begin + values.byteLength);
  new DataView(bytes.buffer).setUint32(0, text.length, true);
  bytes.set(text, ALIGN);
  bytes.set(new Uint8Array(values.buffer, values.byteOffset, values.byteLength), begin);
  return bytes;
}

export function unpackSamples(buffer: ArrayBuffer): Samples {
  const length = new DataView(buffer).getUint32(0, true);
  const head = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, ALIGN, length))) as SamplesHead;
  return { head, values: new Float32Array(buffer, ALIGN + Math.ceil(length / ALIGN) * ALIGN) };
}

/** The samples of one metric of one resource, a view. */
export function columnIn({ head, values }: Samples, metric: string, resource: number): Float32Array {
  const { count, metrics, resources } = head;
  const m = metrics.indexOf(metric);
  const from = (m * resources.length + resource) * count;
  return m < 0 ? new Float32Array(0) : values.subarray(from, from + count);
}

/** One resource's samples as slots for a replay, as if no alarm had turned it off: what a rule is judged by. */
export function slotsWithoutTrips(samples: Samples, resource: number, metrics: readonly string[]): Slots {
  return withoutTrips(slotsIn(samples, resource, metrics), samples.head.resources[resource]?.trips ?? []);
}

/** One resource's samples as slots for a replay; with `buffers` they last until the next are read into them. */
export function slotsIn(
  samples: Samples,
  resource: number,
  metrics: readonly string[],
  buffers?: Map<string, ColumnBuffer>,
): Slots {
  const { stepS, firstEnd, count, metrics: known } = samples.head;
  const columns = new Map(
    metrics
      .filter((metric) => known.includes(metric))
      .map((metric) => {
        const own = columnIn(samples, metric, resource);
        const buffer = buffers?.get(metric) ?? columnBuffer(count);
        buffers?.set(metric, buffer);
        return [metric, columnOfNumbers(own, buffer)] as const;
      }),
  );
  return { stepS, firstEnd, count, columns };
}
