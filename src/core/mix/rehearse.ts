import { gapsToKeep, type Keeping, type MixGap, type MixMachine, nextStep, type Part } from "./keep";

/** What keeping a mix asks for at once, where nothing refuses: machines ordered, by what for and from where, and those given back. */
export type Rehearsed = Readonly<{
  orders: readonly Readonly<{ part: Part; pool: string | null; machines: number; units: number }>[];
  removed: readonly string[];
  /** What there is then, what was ordered included. */
  machines: readonly MixMachine[];
}>;

const STEPS_MAX = 5_000;

/** Goes on step by step as rounds do until there is nothing to be done at once. */
export function rehearseMix(start: Keeping): Rehearsed {
  let { machines, gaps } = start;
  const orders = new Map<string, { part: Part; pool: string | null; machines: number; units: number }>();
  const removed: string[] = [];
  for (let n = 1; n <= STEPS_MAX; n++) {
    gaps = kept({ ...start, machines, gaps }, n);
    const step = nextStep({ ...start, machines, gaps });
    if (!step) break;
    if (step.kind === "remove") {
      removed.push(step.id);
      machines = machines.filter(({ id }) => id !== step.id);
      continue;
    }
    if (step.kind === "restart") {
      machines = machines.map((one) => (one.id === step.id ? { ...one, state: "coming" as const } : one));
      gaps = gaps.filter(({ id }) => id !== step.gap);
      continue;
    }
    const { part, pool, units } = step;
    const own = orders.get(`${part} ${pool}`) ?? { part, pool, machines: 0, units: 0 };
    orders.set(`${part} ${pool}`, { ...own, machines: own.machines + 1, units: own.units + units });
    machines = [
      ...machines,
      { id: `ordered ${n}`, part, pool, units, state: "coming", orderedAt: start.now, isBusy: false, isIll: false },
    ];
    gaps = filled(gaps, step.gaps, units);
  }
  return { orders: [...orders.values()], removed, machines };
}

/** The gaps as they are to be: what is missing is one since now, and what is not missing any more is none. */
function kept(keeping: Keeping, n: number): readonly MixGap[] {
  const { open, shrink } = gapsToKeep(keeping);
  const shrunk = new Map(shrink.map(({ id, units }) => [id, units]));
  const left = keeping.gaps.flatMap((gap) => {
    const units = shrunk.get(gap.id) ?? gap.units;
    return units > 0 ? [{ ...gap, units }] : [];
  });
  return open > 0 ? [...left, { id: -n, units: open, since: keeping.now, disk: null }] : left;
}

function filled(gaps: readonly MixGap[], by: readonly number[], units: number): readonly MixGap[] {
  let left = units;
  return gaps.flatMap((gap) => {
    if (!by.includes(gap.id)) return [gap];
    const taken = Math.min(left, gap.units);
    left -= taken;
    return gap.units > taken ? [{ ...gap, units: gap.units - taken }] : [];
  });
}
