/** The median of several timed runs, in milliseconds, after one that is not counted. */
export function medianMs(work: () => unknown, runs = 9): number {
  work();
  const times = Array.from({ length: runs }, () => {
    const start = performance.now();
    work();
    return performance.now() - start;
  });
  return middle(times);
}

/** Two works in turns, so that what else the machine does meets both: the medians, and that of their ratio. The second is done `times` over at once. */
export async function medianBeside(
  work: () => Promise<unknown>,
  beside: () => unknown,
  { warm, runs, times }: Readonly<{ warm: number; runs: number; times: number }>,
): Promise<Readonly<{ ms: number; besideMs: number; ratio: number }>> {
  for (let i = 0; i < warm; i++) await work();
  const timed = async (one: () => unknown) => {
    const start = performance.now();
    await one();
    return performance.now() - start;
  };
  const pairs: { ms: number; besideMs: number }[] = [];
  for (let i = 0; i < runs; i++) pairs.push({ ms: await timed(work), besideMs: (await timed(beside)) / times });
  return {
    ms: middle(pairs.map(({ ms }) => ms)),
    besideMs: middle(pairs.map(({ besideMs }) => besideMs)),
    ratio: middle(pairs.map(({ ms, besideMs }) => ms / besideMs)),
  };
}

/** The same for work that waits; `before` is done before each run and not timed. */
export async function medianMsAsync(
  work: () => Promise<unknown>,
  { runs = 15, before }: { runs?: number; before?: (() => Promise<unknown>) | undefined } = {},
): Promise<number> {
  await work();
  const times: number[] = [];
  for (let i = 0; i < runs; i++) {
    await before?.();
    const start = performance.now();
    await work();
    times.push(performance.now() - start);
  }
  return middle(times);
}

export function middle(values: readonly number[]): number {
  return [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] as number;
}

/** Fixed work that says how fast this machine is just now: sorting a million numbers. */
export function yardstickMs(): number {
  let state = 1;
  const numbers = Float64Array.from({ length: 1_000_000 }, () => {
    state = (state * 48271) % 2147483647;
    return state;
  });
  return medianMs(() => numbers.slice().sort(), 5);
}

let missed = 0;

/** Prints one figure beside its target and its yardstick. */
export function report({
  name,
  figure,
  target,
  isMet,
  yardstick,
}: {
  name: string;
  figure: string;
  target: string;
  isMet: boolean;
  yardstick: string;
}): void {
  if (!isMet) missed++;
  console.log(`${isMet ? "met   " : "MISSED"}  ${name}: ${figure} (target ${target}; yardstick ${yardstick})`);
}

export function missedCount(): number {
  return missed;
}
