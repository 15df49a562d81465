import fc from "fast-check";
import { expect, test } from "vitest";
import { within } from "../../../tests/support/patience";
import type { Counter } from "./counters";
import type { Point, PointValue } from "./points";
import { reducePoints, seriesName } from "./reduce";

const T = 1_800_000_000;
const point = (value: PointValue, more: Partial<Point> = {}): Point => ({
  host: 0,
  metric: "x",
  attributes: {},
  from: null,
  at: T,
  value,
  ...more,
});
const gauge = (value: number, more: Partial<Point> = {}) => point({ kind: "gauge", value }, more);
const count = (value: number, more: Partial<Point> = {}) =>
  point({ kind: "sum", value, isDelta: false, isMonotonic: true }, more);
const keyOf = ({ host, metric, attributes }: Point) => `${host} ${metric} ${seriesName(attributes)}`;
const reduce = (points: readonly Point[], before: ReadonlyMap<string, Counter> = new Map()) =>
  reducePoints(points, { stepS: 60, keyOf, before });
const values = (points: readonly Point[], before?: ReadonlyMap<string, Counter>) =>
  reduce(points, before).samples.map(({ metric, at, value }) => [metric, at - T, Number(value.toFixed(6))]);

test("a count becomes its rate a second; one that begins anew counts from nothing, and what was told before adds nothing", () => {
  expect(values([count(600, { at: T }), count(720, { at: T + 60 }), count(780, { at: T + 120 })])).toEqual([
    ["x", 60, 2],
    ["x", 120, 1],
  ]);
  // Began anew half a minute ago: 30 in 30 seconds.
  expect(values([count(600, { at: T }), count(30, { at: T + 60, from: T + 30 })])).toEqual([["x", 60, 1]]);
  expect(values([count(600, { at: T }), count(60, { at: T + 60 })])).toEqual([["x", 60, 1]]);
  const { counters } = reduce([count(600, { at: T })]);
  expect(values([count(600, { at: T })], counters)).toEqual([]);
  expect(values([count(500, { at: T - 60 })], counters)).toEqual([]);
  expect(values([count(660, { at: T + 60 })], counters)).toEqual([["x", 60, 1]]);
});

test("deltas, sums that go up and down, and histograms", () => {
  const sum = (value: number, isDelta: boolean, isMonotonic: boolean, more: Partial<Point> = {}) =>
    point({ kind: "sum", value, isDelta, isMonotonic }, more);
  expect(values([sum(120, true, true, { from: T - 60 })])).toEqual([["x", 0, 2]]);
  expect(values([sum(7, false, false)])).toEqual([["x", 0, 7]]);
  expect(values([sum(3, true, false), sum(-1, true, false, { at: T + 60 })])).toEqual([
    ["x", 0, 3],
    ["x", 60, 2],
  ]);
  const histogram = (total: number, n: number, isDelta: boolean, more: Partial<Point> = {}) =>
    point({ kind: "histogram", sum: total, count: n, isDelta }, more);
  expect(values([histogram(50, 10, true, { from: T - 60 })])).toEqual([["x", 0, 5]]);
  expect(values([histogram(50, 10, false), histogram(110, 12, false, { at: T + 60 })])).toEqual([["x", 60, 30]]);
  expect(values([histogram(0, 0, true)])).toEqual([]);
});

test("the conventions' names become ours: processor in per cent by share and by seconds, network and disk by the second", () => {
  const share = (cpu: string, mode: string, value: number) =>
    gauge(value, { metric: "system.cpu.utilization", attributes: { "cpu.logical_number": cpu, "cpu.mode": mode } });
  expect(values([share("0", "idle", 0.9), share("0", "user", 0.1), share("1", "idle", 0.5), share("1", "user", 0.5)])).toEqual([
    ["cpu", 0, 30],
  ]);
  expect(values([gauge(0.25, { metric: "system.cpu.utilization" })])).toEqual([["cpu", 0, 25]]);
  const seconds = (mode: string, value: number, at: number) =>
    count(value, { metric: "system.cpu.time", attributes: { "cpu.mode": mode }, at });
  expect(
    values([seconds("idle", 100, T), seconds("user", 20, T), seconds("idle", 145, T + 60), seconds("user", 35, T + 60)]),
  ).toEqual([["cpu", 60, 25]]);
  const bytes = (direction: string, value: number, at: number) =>
    count(value, { metric: "system.network.io", attributes: { "network.io.direction": direction }, at });
  expect(
    values([
      bytes("receive", 0, T),
      bytes("transmit", 0, T),
      bytes("receive", 60_000, T + 60),
      bytes("transmit", 120_000, T + 60),
    ]),
  ).toEqual([["network", 60, 3]]);
  expect(
    values([
      gauge(2, { metric: "sessions.active", attributes: { seat: "a" } }),
      gauge(1, { metric: "sessions.active", attributes: { seat: "b" } }),
    ]),
  ).toEqual([["sessions.active", 0, 3]]);
  expect(
    values([
      gauge(8, { metric: "own name", attributes: { disk: "a" } }),
      gauge(4, { metric: "own name", attributes: { disk: "b" } }),
    ]),
  ).toEqual([["own name", 0, 6]]);
});

test("of several in a slot the latest counts, what is no number is refused, and each host is apart", () => {
  expect(values([gauge(1, { at: T - 50 }), gauge(3, { at: T - 10 }), gauge(2, { at: T - 30 })])).toEqual([["x", 0, 3]]);
  expect(reduce([gauge(Number.NaN), gauge(1, { at: 0 }), count(Number.POSITIVE_INFINITY)])).toMatchObject({
    samples: [],
    refused: 3,
  });
  expect(reduce([gauge(1), gauge(2, { host: 1 })]).samples.map(({ host, value }) => [host, value])).toEqual([
    [0, 1],
    [1, 2],
  ]);
});

test("a count cut into pushes anywhere, told twice or out of order comes to the same rates", () => {
  fc.assert(
    fc.property(fc.array(fc.nat(1_000), { minLength: 3, maxLength: 30 }), fc.nat(28), (steps, cut) => {
      let total = 0;
      const points = steps.map((step, i) => {
        total += step;
        return count(total, { at: T + i * 60 });
      });
      const whole = values(points);
      const first = reduce(points.slice(0, cut + 1));
      const second = reduce([...points.slice(cut, cut + 2).reverse(), ...points.slice(cut + 1)], first.counters);
      const parts = [...first.samples, ...second.samples].map(({ metric, at, value }) => [
        metric,
        at - T,
        Number(value.toFixed(6)),
      ]);
      expect(parts).toEqual(whole);
      expect(whole).toEqual(steps.slice(1).map((step, i) => ["x", (i + 1) * 60, Number((step / 60).toFixed(6))]));
    }),
  );
});

test("many slots of one series take time in proportion: forty thousand points of one minute each", () => {
  const pointsOf = (count: number) =>
    Array.from({ length: count }, (_, i) => ({
      host: 0,
      metric: "load",
      attributes: {},
      from: null,
      at: (i + 1) * 60,
      value: { kind: "gauge" as const, value: i % 7 },
    }));
  const timed = (count: number) => {
    const points = pointsOf(count);
    const began = performance.now();
    const { samples } = reducePoints(points, { stepS: 60, keyOf: () => "", before: new Map() });
    expect(samples.map(({ at }) => at)).toEqual(points.map(({ at }) => at));
    return performance.now() - began;
  };
  timed(5_000);
  // Twenty times as many took four hundred times as long: 20 s.
  expect(timed(200_000)).toBeLessThan(Math.max(within(5), 60 * timed(10_000)));
});
