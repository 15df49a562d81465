import fc from "fast-check";
import { expect, test } from "vitest";
import { gapsToKeep, type Keeping, type KeepStep, type MixMachine, missingUnits, nextStep, spotWanted } from "./keep";

const NOW = 1_800_000_000;
const POOLS = [
  { name: "a", units: 1, price: 0.1, cap: null, hazard: 0.01, refusedAt: null },
  { name: "b", units: 2, price: 0.18, cap: null, hazard: 0.02, refusedAt: null },
  { name: "c", units: 1, price: 0.12, cap: null, hazard: 0.001, refusedAt: null },
] as const;

const keeping = (more: Partial<Keeping> = {}): Keeping => ({
  now: NOW,
  before: NOW - 60,
  wanted: 8,
  firm: 3,
  order: "even",
  refillEveryMinutes: 5,
  fallbackAfterMinutes: 20,
  returnAfterMinutes: 60,
  pools: POOLS,
  machines: [],
  gaps: [],
  firmRefusedAt: null,
  ...more,
});
let made = 0;
const machine = (more: Partial<MixMachine> = {}): MixMachine => ({
  id: `m${++made}`,
  part: "spot",
  pool: "a",
  units: 1,
  state: "up",
  orderedAt: NOW - 3_600 + made,
  isBusy: false,
  isIll: false,
  ...more,
});
const firm = (count: number) => Array.from({ length: count }, () => machine({ part: "firm", pool: null }));

/** Does what is asked as a cloud would that has everything, or refuses some pools; returns where it came to. */
function kept(first: Keeping, refuses: readonly string[] = []): Readonly<{ steps: readonly KeepStep[]; end: Keeping }> {
  let end = first;
  const steps: KeepStep[] = [];
  for (let i = 0; i < 200; i++) {
    const { open, shrink } = gapsToKeep(end);
    const gaps = end.gaps.flatMap((gap) => {
      const change = shrink.find(({ id }) => id === gap.id);
      return change ? (change.units > 0 ? [{ ...gap, units: change.units }] : []) : [gap];
    });
    end = { ...end, gaps: open > 0 ? [...gaps, { id: 1_000 + i, units: open, since: end.now, disk: null }] : gaps };
    const step = nextStep(end);
    if (!step) return { steps, end };
    steps.push(step);
    end = after(end, step, refuses);
  }
  throw new Error("it never comes to rest");
}

function after(before: Keeping, step: KeepStep, refuses: readonly string[]): Keeping {
  if (step.kind === "remove") return { ...before, machines: before.machines.filter(({ id }) => id !== step.id) };
  if (step.kind === "restart") {
    const machines = before.machines.map((one) => (one.id === step.id ? { ...one, state: "coming" as const } : one));
    return { ...before, machines, gaps: before.gaps.filter(({ id }) => id !== step.gap) };
  }
  if (refuses.includes(step.pool ?? "firm"))
    return step.pool === null
      ? { ...before, firmRefusedAt: before.now }
      : { ...before, pools: before.pools.map((pool) => (pool.name === step.pool ? { ...pool, refusedAt: before.now } : pool)) };
  const one = machine({ part: step.part, pool: step.pool, units: step.units, state: "coming", orderedAt: before.now });
  let left = step.units;
  const gaps = before.gaps.flatMap((gap) => {
    if (!step.gaps.includes(gap.id)) return [gap];
    const taken = Math.min(left, gap.units);
    left -= taken;
    return gap.units > taken ? [{ ...gap, units: gap.units - taken }] : [];
  });
  return { ...before, machines: [...before.machines, one], gaps };
}

const unitsOf = ({ machines }: Keeping, part: MixMachine["part"]) =>
  machines.reduce((sum, one) => sum + (one.part === part && one.state !== "down" ? one.units : 0), 0);

test("firm first, then spot by the order, never more than is wanted; a second look changes nothing", () => {
  const any = fc.record({
    wanted: fc.nat(20),
    firm: fc.nat(6),
    order: fc.constantFrom("even" as const, "cheapest" as const, "steadiest" as const, "blend" as const),
    // One of them is of a pool that the plan does not name any more.
    spot: fc.array(
      fc.record({ pool: fc.constantFrom(...POOLS, { name: "gone", units: 2 }), isBusy: fc.boolean(), isUp: fc.boolean() }),
      { maxLength: 20 },
    ),
    firms: fc.nat(8),
    standing: fc.nat(4),
    refuses: fc.subarray(["a", "b", "c", "firm"]),
  });
  fc.assert(
    fc.property(any, ({ wanted, firm: firmUnits, order, spot, firms, standing, refuses }) => {
      const machines = [
        ...firm(firms),
        ...spot.map(({ pool, isBusy, isUp }) =>
          machine({ pool: pool.name, units: pool.units, isBusy, state: isUp ? "up" : "coming" }),
        ),
        ...Array.from({ length: standing }, () => machine({ part: "stand-in", pool: null })),
      ];
      const { steps, end } = kept(keeping({ wanted, firm: firmUnits, order, machines }), refuses);
      const busy = machines.filter(({ isBusy }) => isBusy);
      for (const step of steps) if (step.kind === "remove") expect(busy.map(({ id }) => id)).not.toContain(step.id);
      const isAllBusy = end.machines.some(({ isBusy }) => isBusy);
      if (!isAllBusy) expect(unitsOf(end, "spot")).toBeLessThanOrEqual(spotWanted(end));
      if (!refuses.includes("firm") && firms <= firmUnits) expect(unitsOf(end, "firm")).toBe(Math.min(firmUnits, wanted));
      // Where nothing refuses nothing is missing; what is missing has a gap.
      if (refuses.length === 0) expect(missingUnits(end)).toBe(0);
      expect(end.gaps.reduce((sum, { units }) => sum + units, 0)).toBe(missingUnits(end));
      expect(kept(end, refuses).steps.filter(({ kind }) => kind !== "order")).toEqual([]);
      // Ordered twice is nothing: a second look in the same instant asks those that have not refused, and they have all they may.
      expect(kept(end, refuses).end.machines).toHaveLength(end.machines.length);
    }),
  );
});

test("what came from a pool that the plan names no more stays while it is wanted, and goes first", () => {
  const old = machine({ pool: "gone", units: 2 });
  const machines = [...firm(3), old, machine({ pool: "a" }), machine({ pool: "c" }), machine({ pool: "c" })];
  expect(kept(keeping({ machines })).steps).toEqual([]);
  expect(kept(keeping({ machines, wanted: 6 })).steps).toMatchObject([{ kind: "remove", id: old.id }]);
  // It is more than one too many, and others fit.
  expect(kept(keeping({ machines, wanted: 7 })).steps).toMatchObject([{ kind: "remove", id: machines[6]?.id }]);
  // All are too large: one goes all the same, and what that leaves is a gap.
  const { steps } = kept(keeping({ machines: [...firm(3), old], wanted: 4, pools: POOLS.slice(0, 1) }));
  expect(steps).toMatchObject([
    { kind: "remove", id: old.id },
    { kind: "order", pool: "a" },
  ]);
});

test("attempts come at the eviction and every five minutes from it, whatever the rounds' minute", () => {
  const since = NOW - 601;
  const gaps = [{ id: 1, units: 1, since, disk: null }];
  const own = [...firm(3), ...Array.from({ length: 4 }, () => machine())];
  const asks = (now: number) =>
    nextStep(keeping({ now, before: now - 60, machines: own, gaps, fallbackAfterMinutes: null })) !== null;
  const asked = Array.from({ length: 20 }, (_, i) => since + 1 + 60 * i).filter(asks);
  expect(asked.map((t) => Math.floor((t - since) / 60))).toEqual([0, 5, 10, 15]);
});

test("full price stands in after its minutes, and goes when spot is up in its place", () => {
  const own = [...firm(3), ...Array.from({ length: 4 }, () => machine())];
  const gaps = [{ id: 1, units: 1, since: NOW - 1_200, disk: null }];
  const dry = POOLS.map((pool) => ({ ...pool, refusedAt: NOW }));
  expect(nextStep(keeping({ machines: own, gaps, pools: dry }))).toMatchObject({ kind: "order", part: "stand-in", gaps: [1] });
  const standing = [...own, machine({ part: "stand-in", pool: null, id: "s" })];
  // An hour after the last refusal it is tried again, and nothing goes before what comes is up.
  expect(nextStep(keeping({ machines: standing, pools: dry }))).toBeNull();
  const later = POOLS.map((pool) => ({ ...pool, refusedAt: NOW - 3_601 }));
  expect(nextStep(keeping({ machines: standing, pools: later }))).toMatchObject({ kind: "order", part: "spot" });
  const coming = [...standing, machine({ state: "coming" })];
  expect(nextStep(keeping({ machines: coming, pools: later }))).toBeNull();
  const up = [...standing, machine()];
  expect(nextStep(keeping({ machines: up, pools: later }))).toEqual({ kind: "remove", id: "s", reason: { code: "spot is up" } });
});

test("a kept disk comes back in its own pool alone, and goes when nothing waits for it", () => {
  const down = machine({ id: "d", state: "down", pool: "c" });
  const own = [...firm(3), ...Array.from({ length: 4 }, () => machine()), down];
  const gaps = [{ id: 1, units: 1, since: NOW - 30, disk: "d" }];
  expect(nextStep(keeping({ machines: own, gaps }))).toMatchObject({ kind: "restart", id: "d", gap: 1 });
  const dry = POOLS.map((pool) => (pool.name === "c" ? { ...pool, refusedAt: NOW } : pool));
  expect(nextStep(keeping({ machines: own, gaps, pools: dry }))).toBeNull();
  expect(nextStep(keeping({ machines: own, gaps: [], wanted: 7 }))).toMatchObject({ kind: "remove", id: "d" });
});

test("a price over its cap gives the pool's machines back, and the next pool takes their place", () => {
  const own = [...firm(3), ...Array.from({ length: 5 }, () => machine())];
  const pools = POOLS.map((pool) => (pool.name === "a" ? { ...pool, cap: 0.05 } : pool));
  const { end } = kept(keeping({ machines: own, pools }));
  expect(end.machines.some(({ pool }) => pool === "a")).toBe(false);
  expect(unitsOf(end, "spot")).toBe(5);
});
