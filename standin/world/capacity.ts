import { chance } from "./chance";
import { Refusal } from "./refusal";
import { HOUR, type World } from "./types";

/** Scarcity of spot machines wanders with a length of some hours; above this there are none. */
const SCARCITY_HOURS = 5;
const DRY_ABOVE = 0.8;

export type Place = Readonly<{ account: string; size: string; zone: string }>;

type Kind = Readonly<{ size: string; zone: string }>;

/** Any start can fail: now and then a zone has none of a size for ten minutes. */
export function isShort({ seed }: Pick<World, "seed">, { size, zone }: Kind, at: number): boolean {
  return chance(seed, zone, size, "dry", Math.floor(at / 600)) < 0.03;
}

/** Throws a Refusal where nothing of a size is to be had in a zone, at whatever price. */
export function requireCapacity(world: World, { account, size, zone }: Place, now: number): void {
  const isOut = world.outages.some((one) => one.kind === "no capacity" && one.account === account && one.until > now);
  if (isOut || isShort(world, { size, zone }, now))
    throw new Refusal(409, "no_capacity", `no ${size} to be had in ${zone} right now`);
}

/** True while no spot machine of a size is to be had in a zone. */
export function isDry({ seed }: Pick<World, "seed">, { size, zone }: Kind, at: number): boolean {
  const step = at / (SCARCITY_HOURS * HOUR);
  const whole = Math.floor(step);
  const ease = (step - whole) ** 2 * (3 - 2 * (step - whole));
  const scarce = (n: number) => chance(seed, zone, size, "scarce", n);
  return scarce(whole) * (1 - ease) + scarce(whole + 1) * ease > DRY_ABOVE;
}

/** The same as a refusal, for a spot machine. */
export function requireSpot(world: World, place: Place, now: number): void {
  requireCapacity(world, place, now);
  if (isDry(world, place, now))
    throw new Refusal(409, "no_capacity", `no spot ${place.size} to be had in ${place.zone} right now`);
}
