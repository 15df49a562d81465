import type { Brand } from "../brand";

/** How much of a resource runs: 0 or 1 for a machine, members of a group, cores of a service. */
export type Level = Brand<number, "level">;

/** Makes a level of a whole number from 0. Throws a RangeError on anything else. */
export function asLevel(value: number): Level {
  if (!Number.isInteger(value) || value < 0) throw new RangeError(`level ${value}: expected a whole number from 0`);
  return value as Level;
}

export const OFF = asLevel(0);
export const ON = asLevel(1);
