import fc from "fast-check";
import { expect, test } from "vitest";
import { type Keeping, type MixMachine, rehearseMix } from ".";

const NOW = 1_800_000_000;
const pool = (name: string, units = 1) => ({ name, units, price: 0.2, cap: null, hazard: 0.01, refusedAt: null });
const keeping = (more: Partial<Keeping> = {}): Keeping => ({
  now: NOW,
  before: NOW - 60,
  wanted: 6,
  firm: 2,
  order: "even",
  refillEveryMinutes: 5,
  fallbackAfterMinutes: 30,
  returnAfterMinutes: 60,
  pools: [pool("a"), pool("b")],
  machines: [],
  gaps: [],
  firmRefusedAt: null,
  ...more,
});
const machine = (id: string, more: Partial<MixMachine> = {}): MixMachine => ({
  id,
  part: "spot",
  pool: "a",
  units: 1,
  state: "up",
  orderedAt: NOW - 9_000,
  isBusy: false,
  isIll: false,
  ...more,
});

test("a group of none of its own is asked for whole: firm first, then the rest by the order of the pools", () => {
  expect(rehearseMix(keeping()).orders).toEqual([
    { part: "firm", pool: null, machines: 2, units: 2 },
    { part: "spot", pool: "a", machines: 2, units: 2 },
    { part: "spot", pool: "b", machines: 2, units: 2 },
  ]);
  // A machine of two units that does not fit any more is not asked for.
  expect(rehearseMix(keeping({ wanted: 5, pools: [pool("two", 2)] })).orders).toEqual([
    { part: "firm", pool: null, machines: 2, units: 2 },
    { part: "spot", pool: "two", machines: 1, units: 2 },
  ]);
});

test("what is there stays, what is too many is given back, and where all is as it should be nothing is asked for", () => {
  const machines = [machine("f1", { part: "firm", pool: null }), machine("f2", { part: "firm", pool: null }), machine("s1")];
  expect(rehearseMix(keeping({ wanted: 3, machines }))).toMatchObject({ orders: [], removed: [] });
  expect(rehearseMix(keeping({ wanted: 2, machines }))).toMatchObject({ orders: [], removed: ["s1"] });
  expect(rehearseMix(keeping({ wanted: 0, machines })).removed.toSorted()).toEqual(["f1", "f2", "s1"]);
  const busy = machines.map((one) => ({ ...one, isBusy: true }));
  expect(rehearseMix(keeping({ wanted: 0, machines: busy })).removed).toEqual([]);
});

test("whatever is there, machines of one unit come to what is wanted, no more and no less", () => {
  const some = fc
    .array(fc.record({ part: fc.constantFrom("firm" as const, "spot" as const), pool: fc.constantFrom("a", "b", "gone") }), {
      maxLength: 12,
    })
    .map((list) =>
      list.map(({ part, pool: from }, i) => machine(`m${i}`, { part, pool: part === "firm" ? null : from, orderedAt: NOW - i })),
    );
  fc.assert(
    fc.property(some, fc.nat(10), fc.nat(10), (machines, wanted, firm) => {
      const { machines: then, orders, removed } = rehearseMix(keeping({ machines, wanted, firm }));
      expect(then).toHaveLength(wanted);
      expect(then.filter(({ part }) => part === "firm")).toHaveLength(Math.min(firm, wanted));
      const ordered = orders.reduce((sum, one) => sum + one.machines, 0);
      expect(machines.length + ordered - removed.length).toBe(wanted);
    }),
  );
});
