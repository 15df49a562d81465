import fc from "fast-check";
import { expect, test } from "vitest";
import { gathered } from "./gathered";

const point = fc.record({ x: fc.integer({ min: 0, max: 100 }), y: fc.integer({ min: 0, max: 100 }) });
const placed = { x: (p: { x: number }) => p.x, y: (p: { y: number }) => p.y, apart: 14 };

test("no point lies over another, none is lost, and who comes first is seen", () => {
  fc.assert(
    fc.property(fc.array(point, { maxLength: 60 }), (points) => {
      const shown = gathered(points, placed);
      expect(shown.flatMap(({ point: one, others }) => [one, ...others])).toHaveLength(points.length);
      shown.forEach((a, i) => {
        for (const b of shown.slice(i + 1)) expect(Math.max(Math.abs(a.x - b.x), Math.abs(a.y - b.y))).toBeGreaterThanOrEqual(14);
        for (const other of a.others) expect(points.indexOf(other)).toBeGreaterThan(points.indexOf(a.point));
      });
      if (points[0]) expect(shown[0]?.point).toBe(points[0]);
    }),
  );
});
