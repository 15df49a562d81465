/**
 * How much slower this machine was than one at rest when the tests began (`vitest.config.ts` measures it): every limit of time in
 * the tests is that much longer.
 */
const PATIENCE = Math.max(1, Number(process.env.UMBRIK_PATIENCE) || 1);

/** A limit of so many seconds on a machine at rest, in milliseconds here. */
export function within(seconds: number): number {
  return Math.round(seconds * 1_000 * PATIENCE);
}

/** Waits until something holds that others do in their own time. Throws what it waited for where it does not within so many seconds. */
export async function until(holds: () => Promise<boolean> | boolean, seconds = 90): Promise<void> {
  for (const end = Date.now() + within(seconds); ; ) {
    if (await holds()) return;
    if (Date.now() > end) throw new Error(`waited ${within(seconds) / 1_000} s, and this did not come true: ${holds}`);
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
}
