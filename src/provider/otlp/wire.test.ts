import { spawnSync } from "node:child_process";
import fc from "fast-check";
import protobuf from "protobufjs";
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

test("what is made of a body is bounded by its length: empty points, attributes and metrics are counted as they are read", () => {
  const COUNT = 300_000;
  const empty = (field: number) => Buffer.alloc(2 * COUNT, Buffer.from([(field << 3) | 2, 0]));
  const within = (field: number, inner: Uint8Array) => {
    const head = protobuf.Writer.create()
      .uint32((field << 3) | 2)
      .uint32(inner.length)
      .finish();
    return Buffer.concat([head, inner]);
  };
  const bodies = {
    points: within(1, within(2, within(2, within(5, empty(1))))),
    metrics: within(1, within(2, empty(2))),
    scopes: within(1, empty(2)),
    attributes: within(1, within(1, empty(1))),
    resources: empty(1),
  };
  for (const [what, body] of Object.entries(bodies)) {
    expect(() => readPush(body, false), what).toThrow(/send less at once/);
    expect(body.length).toBeGreaterThanOrEqual(2 * COUNT);
  }
  const json = `{"resourceMetrics":[{"scopeMetrics":[{"metrics":[{"name":"a","gauge":{"dataPoints":[${"{},".repeat(COUNT)}{}]}}]}]}]}`;
  expect(() => readPush(Buffer.from(json), true)).toThrow(/send less at once/);
});

test("eight million empty points are refused by a process that has no memory for what would be made of them", () => {
  const readIt = `
    import { readPush } from "./src/provider/otlp/index.ts";
    const empty = Buffer.alloc(16_000_000, Buffer.from([0x0a, 0x00]));
    const within = (tag, inner) => {
      const length = [];
      for (let left = inner.length; ; left = Math.floor(left / 128)) {
        length.push(left >= 128 ? (left % 128) | 128 : left);
        if (left < 128) break;
      }
      return Buffer.concat([Buffer.from([tag, ...length]), inner]);
    };
    const bytes = within(0x0a, within(0x12, within(0x12, within(0x2a, empty))));
    const json = Buffer.from('{"resourceMetrics":[{"scopeMetrics":[{"metrics":[{"name":"a","gauge":{"dataPoints":[' + "{},".repeat(3_000_000) + "{}]}}]}]}]}");
    for (const [body, isJson] of [[bytes, false], [json, true]]) {
      try {
        readPush(body, isJson);
        console.log("taken");
      } catch (error) {
        console.log(error.message);
      }
    }`;
  const { stdout, status } = spawnSync(
    process.execPath,
    ["--max-old-space-size=256", "--import", "tsx", "--input-type=module", "--eval", readIt],
    { encoding: "utf8" },
  );
  expect(status).toBe(0);
  expect(stdout.trim().split("\n")).toEqual([
    expect.stringContaining("send less at once"),
    expect.stringContaining("send less at once"),
  ]);
});
