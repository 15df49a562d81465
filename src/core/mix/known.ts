import { z } from "zod";
import { drawGamma, type Key, under } from "./draws";

const known = z.number().positive();

/** What is known of a rate: a Gamma, with its shape, and its rate in what is counted by (machine-hours, hours). */
export type Gamma = Readonly<{ shape: number; rate: number }>;
/** What is known of a share: a Beta, with so many taken and spared. */
export type Beta = Readonly<{ taken: number; spared: number }>;

export const gammaSchema = z.strictObject({ shape: known, rate: known });
export const betaSchema = z.strictObject({ taken: known, spared: known });

const isNumber = (value: unknown): value is number => typeof value === "number";

/** The mean of a rate as it is known; a number is itself. */
export function meanRate(rate: number | Gamma): number {
  return isNumber(rate) ? rate : rate.shape / rate.rate;
}

/** The mean of a share as it is known; a number is itself. */
export function meanShare(share: number | Beta): number {
  return isNumber(share) ? share : share.taken / (share.taken + share.spared);
}

/** What lasts as long as something happens at a rate: hours, in the mean; a number is hours already. */
export function meanHours(length: number | Gamma): number {
  return isNumber(length) ? length : length.rate / length.shape;
}

/** A rate of one trial. */
export function drawRate(key: Key, rate: number | Gamma): number {
  return isNumber(rate) ? rate : drawGamma(key, rate.shape) / rate.rate;
}

/** A share of one trial. */
export function drawShare(key: Key, share: number | Beta): number {
  if (isNumber(share)) return share;
  const taken = drawGamma(under(key, 1), share.taken);
  return taken / (taken + drawGamma(under(key, 2), share.spared));
}

/** Mean hours of one trial. */
export function drawHours(key: Key, length: number | Gamma): number {
  return isNumber(length) ? length : 1 / drawRate(key, length);
}
