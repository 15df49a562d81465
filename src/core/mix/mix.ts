import { z } from "zod";
import { LEVEL_MAX } from "../hours/level";
import { nameSchema } from "../hours/schedule";
import { betaSchema, gammaSchema, meanRate, meanShare } from "./known";

/** A hundred years of minutes, and of hours: what is longer is no length a person means. */
const MINUTES_MAX = 52_560_000;
const HOURS_MAX = MINUTES_MAX / 60;
/** More often than every second is no rate of evictions. */
const RATE_MAX = 3_600;
const PRICES_MAX = 8_784;

const minutes = z.number().min(0).max(MINUTES_MAX);
const price = z.number().min(0).max(1e9);
const rate = z.number().min(0).max(RATE_MAX);
const units = z.number().int().min(0).max(LEVEL_MAX);
/** Null, or not given: it does not happen. */
const never = null;

const poolSchema = z
  .strictObject({
    name: nameSchema,
    unitsPerMachine: z.number().int().min(1).max(LEVEL_MAX).default(1),
    /** Per machine-hour. */
    price: price.optional(),
    /** One price per hour, which begins again at its end. */
    priceSeries: z.array(price).min(1, "a series has at least one price").max(PRICES_MAX).optional(),
    /** Above it the pool's machines are evicted, and none can be had. */
    cap: z.number().positive("a cap is above 0: at 0 nothing could ever be had").nullable().optional(),
    /** Evictions per machine-hour, or what is known of them: a Gamma, drawn once per trial. */
    hazard: z.union([rate, gammaSchema]).nullable().default(never),
    /**
     * Events per hour, each of which evicts every machine of the pool with the chance `reclaimShare`. This and what follows, too, is
     * a number or what is known of it, drawn once per trial.
     */
    reclaimRate: z.union([rate, gammaSchema]).nullable().default(never),
    reclaimShare: z
      .union([z.number().min(0).max(1), betaSchema])
      .nullable()
      .default(never),
    /** Mean length of a spell in which machines can be had; 0 is dry for ever. As far as it is known: how often one ends, per hour. */
    availableHours: z
      .union([z.number().min(0).max(HOURS_MAX), gammaSchema])
      .nullable()
      .default(never),
    /** Mean length of a dry spell, in the same way. */
    dryHours: z
      .union([z.number().min(0).max(HOURS_MAX), gammaSchema])
      .nullable()
      .default(never),
    /** What the hazard is multiplied by while the pool is dry. */
    dryHazardFactor: z
      .union([z.number().min(0).max(1_000), gammaSchema])
      .nullable()
      .default(never),
  })
  .meta({ oneOf: [{ required: ["price"] }, { required: ["priceSeries"] }] })
  .superRefine((pool, context) => {
    if (pool.price === undefined && pool.priceSeries === undefined)
      context.addIssue({ code: "custom", path: ["price"], message: "a pool has a price or a priceSeries" });
    if (pool.price !== undefined && pool.priceSeries !== undefined)
      context.addIssue({ code: "custom", path: ["priceSeries"], message: "a pool has a price or a priceSeries, not both" });
  });

const stepSchema = z.strictObject({
  from: z.number().min(0).max(HOURS_MAX),
  to: z.number().positive().max(HOURS_MAX),
  units,
});

/** Firm and spot capacity of a group or fleet (docs/model.md, Capacity mix). Prices and rates per hour. */
export const mixSchema = z
  .strictObject({
    /** Units wanted: a number, or steps in hours since the start; in holes and past the last none. */
    wanted: z.union([units, z.array(stepSchema).min(1).max(100_000)]),
    firm: units,
    /** Per unit. */
    firmPrice: price,
    setupMinutes: minutes.nullable().default(never),
    eviction: z.enum(["drop", "keep disks"]),
    /** Per machine-hour while its machine is down. */
    diskPrice: price.nullable().default(never),
    pools: z.array(poolSchema).max(200),
    order: z.enum(["even", "cheapest", "steadiest", "blend"]),
    refillEveryMinutes: z.number().positive().max(MINUTES_MAX).nullable().default(never),
    provisionMinutes: minutes.nullable().default(never),
    fallbackAfterMinutes: minutes.nullable().default(never),
    returnAfterMinutes: minutes.nullable().default(never),
    floor: units.nullable().default(never),
  })
  .superRefine((mix, context) => {
    const refuse = (path: (string | number)[], message: string) => context.addIssue({ code: "custom", path, message });
    if (typeof mix.wanted !== "number") refuseSteps(mix.wanted, refuse);
    const most = mostWanted(mix.wanted);
    if (mix.firm > most) refuse(["firm"], `${mix.firm} firm units are above the ${most} that are ever wanted`);
    if (mix.pools.length === 0 && mix.firm < most)
      refuse(["pools"], `${most - mix.firm} of ${most} units are not firm: at least one pool is needed for them`);
    const seen = new Set<string>();
    mix.pools.forEach(({ name, price, priceSeries }, k) => {
      if (seen.has(name)) refuse(["pools", k, "name"], `"${name}" is the name of another pool`);
      seen.add(name);
      const free = price === 0 ? ["price"] : priceSeries?.includes(0) ? ["priceSeries", priceSeries.indexOf(0)] : null;
      if (mix.order === "blend" && free)
        refuse(["pools", k, ...free], "a blend weighs by price, and nothing can be weighed at a price of 0");
    });
  });

function refuseSteps(steps: readonly Step[], refuse: (path: (string | number)[], message: string) => void): void {
  steps.forEach(({ from, to }, i) => {
    if (to <= from) refuse(["wanted", i, "to"], `${to} is not after ${from}`);
  });
  const byStart = steps.map((step, i) => ({ ...step, i })).sort((a, b) => a.from - b.from);
  byStart.forEach((step, at) => {
    const before = byStart[at - 1];
    if (before && step.from < before.to)
      refuse(["wanted", step.i, "from"], `${step.from} lies in the step from ${before.from} to ${before.to}`);
  });
}

export type Mix = z.infer<typeof mixSchema>;
export type Pool = Mix["pools"][number];
export type Order = Mix["order"];
type Step = z.infer<typeof stepSchema>;

/** The most units that are ever wanted. */
export function mostWanted(wanted: Mix["wanted"]): number {
  if (typeof wanted === "number") return wanted;
  return wanted.reduce((most, step) => Math.max(most, step.units), 0);
}

/** Evictions per machine-hour that an order reckons with: the hazard, of a learned one its mean, and reclaim events. */
export function orderHazard({ hazard, reclaimRate, reclaimShare }: Pool): number {
  return meanRate(hazard ?? 0) + meanRate(reclaimRate ?? 0) * meanShare(reclaimShare ?? 0);
}
