import { z } from "zod";
import { LEVEL_MAX } from "../hours/level";
import { type Mix, mixSchema, mostWanted, type Order } from "./mix";

/** What is tried, where not everything is; each left out means everything. */
export const choicesSchema = z.strictObject({
  firm: z.array(z.number().int().min(0).max(LEVEL_MAX)).min(1).optional(),
  poolSets: z.array(z.array(z.string()).min(1, "a set of pools has at least one")).min(1).optional(),
  orders: z.array(mixSchema.shape.order).min(1).optional(),
});
export type Choices = z.infer<typeof choicesSchema>;

/** A way to fill the wanted units. Pools in the mix's order; none, and no order, where all is firm. */
export type MixChoice = Readonly<{ firm: number; pools: readonly string[]; order: Order | null }>;

/** A choice with what it costs and lacks in the mean, and the share of the time in which it has the floor. */
export type FrontierPoint = MixChoice & Readonly<{ cost: number; missingUnitHours: number; atLeastFloor: number }>;

/** Choices for one mix: those that it cannot have are refused, each at its place. */
export function choicesFor(mix: Mix): z.ZodType<Choices> {
  const names = mix.pools.map(({ name }) => name);
  const most = mostWanted(mix.wanted);
  return choicesSchema.superRefine(({ firm = [], poolSets = [], orders = [] }, context) => {
    const refuse = (path: (string | number)[], message: string) => context.addIssue({ code: "custom", path, message });
    for (const i of twice(firm)) refuse(["firm", i], "the same number is given twice");
    for (const i of twice(orders)) refuse(["orders", i], "the same order is given twice");
    firm.forEach((units, i) => {
      if (units > most) refuse(["firm", i], `${units} firm units are above the ${most} that are ever wanted`);
    });
    poolSets.forEach((set, i) => {
      for (const j of twice(set)) refuse(["poolSets", i, j], `"${set[j]}" is given twice`);
      set.forEach((name, j) => {
        if (!names.includes(name))
          refuse(["poolSets", i, j], `no pool is named "${name}"; there are ${names.join(", ") || "none"}`);
      });
    });
  });
}

function twice<T>(list: readonly T[]): number[] {
  return list.flatMap((one, i) => (list.indexOf(one) < i ? [i] : []));
}

/**
 * The points of a frontier: firm units outside, then sets of pools, then orders, as given; without choices every
 * number of firm units, each pool alone and all together, and the mix's own order. Where all is firm there is one.
 */
export function choicesOf(mix: Mix, choices: Choices = {}): readonly MixChoice[] {
  const most = mostWanted(mix.wanted);
  const names = mix.pools.map(({ name }) => name);
  const firm = choices.firm ?? Array.from({ length: most + 1 }, (_, units) => units);
  const everything = names.length > 1 ? [...names.map((name) => [name]), names] : [names];
  const poolSets = (choices.poolSets ?? everything).map((set) => names.filter((name) => set.includes(name)));
  const orders = choices.orders ?? [mix.order];
  return firm.flatMap((units): MixChoice[] => {
    if (units === most) return [{ firm: units, pools: [], order: null }];
    return poolSets.flatMap((pools) => orders.map((order) => ({ firm: units, pools, order })));
  });
}

/**
 * Choices that leave nothing out but steps of firm units: each pool alone and all together, these by every order that the mix
 * can have. Of one pool all orders are the same.
 */
export function everyChoice(mix: Mix, firm?: readonly number[]): readonly MixChoice[] {
  const names = mix.pools.map(({ name }) => name);
  const orders = mixSchema.shape.order.options.filter((order) => mixSchema.safeParse({ ...mix, order }).success);
  const common = firm ? { firm: [...firm] } : {};
  const together = choicesOf(mix, { ...common, poolSets: [names], orders: names.length > 1 ? orders : [mix.order] });
  if (names.length < 2) return together;
  const alone = choicesOf(mix, { ...common, poolSets: names.map((name) => [name]) });
  return [...together, ...alone.filter(({ pools }) => pools.length > 0)];
}

/** The mix with a choice in place of its own. */
export function withChoice(mix: Mix, { firm, pools, order }: MixChoice): Mix {
  return { ...mix, firm, pools: mix.pools.filter(({ name }) => pools.includes(name)), order: order ?? mix.order };
}

/** Whether each point is on the frontier: no other has both means at most its own, and one of them less. Equals stand together. */
export function onFrontier(points: readonly Pick<FrontierPoint, "cost" | "missingUnitHours">[]): readonly boolean[] {
  const byCost = points
    .map((point, i) => ({ ...point, i }))
    .sort((a, b) => a.cost - b.cost || a.missingUnitHours - b.missingUnitHours);
  const on = new Array<boolean>(points.length).fill(false);
  let least = Infinity;
  for (let at = 0; at < byCost.length; at++) {
    const point = byCost[at] as (typeof byCost)[number];
    const before = byCost[at - 1];
    const isEqual = before && before.cost === point.cost && before.missingUnitHours === point.missingUnitHours;
    on[point.i] = isEqual ? (on[before.i] as boolean) : point.missingUnitHours < least;
    least = Math.min(least, point.missingUnitHours);
  }
  return on;
}

/** The cheapest of those that have the floor for at least that share of the time; of equals the one that lacks least, then has most firm, then comes first. */
export function chosenPoint(points: readonly FrontierPoint[], share: number): FrontierPoint | null {
  let best: FrontierPoint | null = null;
  for (const point of points) {
    if (point.atLeastFloor < share) continue;
    if (!best || isBetter(point, best)) best = point;
  }
  return best;
}

function isBetter(a: FrontierPoint, b: FrontierPoint): boolean {
  if (a.cost !== b.cost) return a.cost < b.cost;
  if (a.missingUnitHours !== b.missingUnitHours) return a.missingUnitHours < b.missingUnitHours;
  return a.firm > b.firm;
}
