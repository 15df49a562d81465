import fc from "fast-check";
import { expect, test } from "vitest";
import { readPush } from "./read";
import { REQUEST } from "./schema";
import { readRequest } from "./wire";

const nano = fc.integer({ min: 1, max: 4_000_000_000 }).map((t) => t * 1_000_000);
const attribute = fc.record({
  key: fc.string({ maxLength: 12 }),
  value: fc.oneof(
    fc.record({ stringValue: fc.string({ maxLength: 20 }) }),
    fc.record({ boolValue: fc.boolean() }),
    fc.record({ intValue: fc.integer() }),
    fc.record({ doubleValue: fc.double({ noNaN: true, noDefaultInfinity: true }) }),
  ),
});
const attributes = fc.array(attribute, { maxLength: 4 });
const number = fc.oneof(
  fc.record({ attributes, timeUnixNano: nano, asDouble: fc.double({ noNaN: true, noDefaultInfinity: true }) }),
  fc.record({ attributes, timeUnixNano: nano, startTimeUnixNano: nano, asInt: fc.integer(), flags: fc.nat(1) }),
  fc.record({ timeUnixNano: nano }),
);
const histogram = fc.record({
  attributes,
  timeUnixNano: nano,
  count: fc.nat(),
  sum: fc.option(fc.integer(), { nil: undefined }),
});
const temporality = fc.constantFrom(0, 1, 2);
const metric = fc.oneof(
  fc.record({ name: fc.string({ maxLength: 30 }), gauge: fc.record({ dataPoints: fc.array(number, { maxLength: 5 }) }) }),
  fc.record({
    name: fc.string({ maxLength: 30 }),
    sum: fc.record({
      dataPoints: fc.array(number, { maxLength: 5 }),
      aggregationTemporality: temporality,
      isMonotonic: fc.boolean(),
    }),
  }),
  fc.record({
    name: fc.string({ maxLength: 30 }),
    histogram: fc.record({ dataPoints: fc.array(histogram, { maxLength: 3 }), aggregationTemporality: temporality }),
  }),
  fc.record({
    name: fc.string({ maxLength: 30 }),
    exponentialHistogram: fc.record({ dataPoints: fc.array(histogram, { maxLength: 3 }), aggregationTemporality: temporality }),
  }),
  fc.record({
    name: fc.string({ maxLength: 30 }),
    summary: fc.record({ dataPoints: fc.array(fc.record({ timeUnixNano: nano }), { maxLength: 2 }) }),
  }),
);
const request = fc.record({
  resourceMetrics: fc.array(
    fc.record({
      resource: fc.record({ attributes }),
      scopeMetrics: fc.array(fc.record({ metrics: fc.array(metric, { maxLength: 4 }) }), { maxLength: 3 }),
    }),
    { maxLength: 4 },
  ),
});

test("what is read from the bytes is what the reflected message says, for any request", () => {
  fc.assert(
    fc.property(request, (given) => {
      const message = REQUEST.fromObject(given);
      const body = Buffer.from(REQUEST.encode(message).finish());
      // The other way in reads the same messages through the schema.
      expect(readPush(body, false)).toEqual(readPush(Buffer.from(JSON.stringify(message)), true));
    }),
  );
});

test("bytes that are cut off, or say that they are longer than they are, are no request", () => {
  const body = REQUEST.encode(
    REQUEST.fromObject({
      resourceMetrics: [
        {
          resource: { attributes: [{ key: "host.name", value: { stringValue: "a" } }] },
          scopeMetrics: [{ metrics: [{ name: "load", gauge: { dataPoints: [{ timeUnixNano: 1e18, asDouble: 1 }] } }] }],
        },
      ],
    }),
  ).finish();
  for (let length = 1; length < body.length; length++)
    expect(() => readRequest(body.subarray(0, length)), `${length} bytes`).toThrow();
  fc.assert(
    fc.property(fc.uint8Array({ maxLength: 200 }), (any) => {
      try {
        readRequest(any);
      } catch (error) {
        expect(error).toBeInstanceOf(Error);
      }
    }),
  );
});
