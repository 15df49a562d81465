import type { Brand } from "../brand";

/** How much of a resource runs: 0 or 1 for a machine, members of a group, cores of a service. */
export type Level = Brand<number, "level">;

/** Makes a level of a whole number from 0. Throws a RangeError on anything else. */
export function asLevel(value: number): Level {
  if (!Number.isInteger(value) || value < 0) throw new RangeError(`level ${value}: expected a whole number from 0`);
  return value as Level;
}

export const OFF = asLevel(0);

/** The largest count that hours can name. */
export const LEVEL_MAX = 1_000_000;

/**
 * What hours say: a count, or on, which is the resource's own size, whatever that is (docs/model.md,
 * Hours: a schedule). A number of its own above every count, so that painting stays whole numbers;
 * `sizedLevel` makes a level of it.
 */
export type HoursLevel = Brand<number, "hours level">;
export const ON = (LEVEL_MAX + 1) as HoursLevel;
export const HOURS_OFF = 0 as HoursLevel;

/** Makes hours say a count, from 0 to a million. Throws a RangeError on anything else. */
export function asCount(value: number): HoursLevel {
  if (!Number.isInteger(value) || value < 0 || value > LEVEL_MAX)
    throw new RangeError(`count ${value}: expected a whole number from 0 to ${LEVEL_MAX}`);
  return value as HoursLevel;
}

/** The level that hours mean for a resource of a size: a machine's is 1. */
export function sizedLevel(said: HoursLevel, ownSize: Level): Level {
  return said === ON ? ownSize : (said as number as Level);
}
