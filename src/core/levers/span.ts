import { z } from "zod";
import { asLevel, type CompiledSchedule, compileSchedule, LEVEL_MAX, type Level, livedIn } from "../hours";
import { type FleetPlan, isGuarded, type PlanFile, type ResourceKind } from "../plan";
import {
  type Amount,
  addAmounts,
  NO_AMOUNT,
  NO_RATE,
  perSecondOfHourly,
  type RateCard,
  subtractAmounts,
  tryParseHourRate,
} from "../pricing";
import { type LeverKind, type Line, monthlyOf, type Window } from "../projection";
import { claimer } from "../rounds";
import { inventoryResourceSchema, selectable } from "../selector";
import { projectPlan } from "./project-plan";

/** A resource of an inventory file with what a projection asks of it: its own size, and whether no lever touches it. */
export const projectedResourceSchema = inventoryResourceSchema.extend({
  level: z.number().int().min(0).max(LEVEL_MAX).optional(),
  guarded: z.boolean().optional(),
});
export const projectedInventorySchema = z.strictObject({ resources: z.array(projectedResourceSchema) });
export type ProjectedResource = z.infer<typeof projectedResourceSchema>;

const rate = z
  .string()
  .refine((text) => tryParseHourRate(text) !== null, "expected a decimal from 0 with at most nine decimals, as text");

/** A price: it holds for what equals it in all the fields it gives. Money per hour as text, seconds whole. */
const spanPriceSchema = z.strictObject({
  region: z.string().optional(),
  size: z.string().optional(),
  os: z.string().optional(),
  purchase: z.string().optional(),
  compute: rate,
  licencePerCore: rate.default("0"),
  minimumCores: z.number().int().min(0).default(0),
  granularity: z.number().int().min(1).default(1),
  minimum: z.number().int().min(0).default(1),
});
export const spanPricesSchema = z.strictObject({ prices: z.array(spanPriceSchema) });
export type SpanPrice = z.infer<typeof spanPriceSchema>;

export type SpanFleet = Readonly<{
  name: string;
  resources: number;
  alwaysOn: Amount;
  projected: Amount;
  levers: readonly Readonly<{ lever: LeverKind; saves: Amount }>[];
}>;

export type SpanResult =
  | Readonly<{ ok: true; fleets: readonly SpanFleet[]; all: Omit<SpanFleet, "name"> }>
  /** The resources in a fleet that no price fits, by their place in the inventory. */
  | Readonly<{ ok: false; unpriced: readonly number[] }>;

export type SpanInput = Readonly<{
  plan: PlanFile;
  resources: readonly ProjectedResource[];
  prices: readonly SpanPrice[];
  span: Window;
  /** Where hours are lived that have no zone of their own; without it none may be such. */
  zone?: string | undefined;
}>;

function lived(compiled: CompiledSchedule, zone: string | undefined): CompiledSchedule {
  return zone === undefined ? compiled : livedIn(compiled, zone);
}

/**
 * What the fleets of a plan cost over one span beside always on, lever by lever; nothing is known of
 * the past, so levers that need it are left out and leave goes on as always on (docs/cli.md).
 */
export function projectSpan({ plan, resources, prices, span, zone }: SpanInput): SpanResult {
  const schedules = new Map(
    plan.schedules.map((schedule) => [
      schedule.name,
      lived(
        compileSchedule(
          schedule,
          plan.calendars.find(({ name }) => name === schedule.calendar),
        ),
        zone,
      ),
    ]),
  );
  const claim = claimer(plan.fleets);
  const members = new Map<FleetPlan, number[]>(plan.fleets.map((fleet) => [fleet, []]));
  const views = resources.map((resource) => ({ ...selectable(resource), resource }));
  views.forEach((view, i) => {
    const fleet = claim(view);
    if (fleet) members.get(fleet)?.push(i);
  });
  const unpriced = [...members.values()].flat().filter((i) => priceOf(resources[i] as ProjectedResource, prices) === null);
  if (unpriced.length > 0) return { ok: false, unpriced: unpriced.sort((a, b) => a - b) };
  const fleets = plan.fleets.map((fleet) => {
    const own = (members.get(fleet) ?? []).map((i) => views[i] as (typeof views)[number]);
    return fleetOf(fleet, own, { schedules, prices, span });
  });
  return { ok: true, fleets, all: sumOf(fleets) };
}

/** The first price all of whose given fields equal the resource's. */
function priceOf(resource: ProjectedResource, prices: readonly SpanPrice[]): SpanPrice | null {
  const fits = (price: SpanPrice) =>
    (["region", "size", "os", "purchase"] as const).every((key) => price[key] === undefined || price[key] === resource[key]);
  return prices.find(fits) ?? null;
}

function cardOf({ compute, licencePerCore, minimumCores, granularity, minimum }: SpanPrice): RateCard {
  const hourly = (text: string) => perSecondOfHourly(tryParseHourRate(text) as NonNullable<ReturnType<typeof tryParseHourRate>>);
  return {
    perLevel: hourly(compute),
    licencePerCore: hourly(licencePerCore),
    licenceCoresMin: minimumCores,
    // The level counts cores here, whatever the kind.
    licenceCores: null,
    billing: { granularityS: granularity, minimumS: minimum },
    always: NO_RATE,
    addressesOn: NO_RATE,
    addressesOff: NO_RATE,
    image: NO_RATE,
    billedWhenHalted: false,
    unpriced: [],
  };
}

type View = ReturnType<typeof selectable> & Readonly<{ resource: ProjectedResource }>;
type Given = Readonly<{ schedules: ReadonlyMap<string, CompiledSchedule>; prices: readonly SpanPrice[]; span: Window }>;

function fleetOf(fleet: FleetPlan, own: readonly View[], { schedules, prices, span }: Given): SpanFleet {
  const cards = new Map<SpanPrice, RateCard>();
  const lines = own.map((view): Line => {
    const price = priceOf(view.resource, prices) as SpanPrice;
    const card = cards.get(price) ?? cardOf(price);
    cards.set(price, card);
    return lineOf(view, fleet, card);
  });
  const projection = projectPlan({
    plan: fleet,
    lines,
    resources: own,
    schedules,
    capabilities: new Map(),
    evidence: {},
    months: [{ name: "", ...span }],
    days: [],
    spare: null,
  });
  const alwaysOn = monthlyOf(projection.alwaysOn, 0);
  const projected = projection.steps.reduce((_, { after }) => monthlyOf(after, 0), alwaysOn);
  return {
    name: fleet.name,
    resources: own.length,
    alwaysOn,
    projected,
    levers: [{ lever: "hours", saves: subtractAmounts(alwaysOn, projected) }],
  };
}

function lineOf(view: View, fleet: FleetPlan, card: RateCard): Line {
  const { name, kind, level = 1, guarded = false } = view.resource;
  const isMachine = kind === "machine";
  const ownSize = isMachine ? Math.min(1, level) : kind === "group" ? (fleet.size ?? level) : level;
  return {
    id: name,
    kind: (kind ?? "machine") as ResourceKind,
    one: { kind: kind ?? "", fields: {} },
    levelMax: LEVEL_MAX,
    ownSize: asLevel(ownSize) as Level,
    card,
    ran: null,
    isLeft: guarded || isGuarded(view),
    canHibernate: false,
  };
}

function sumOf(fleets: readonly SpanFleet[]): Omit<SpanFleet, "name"> {
  const sum = (of: (fleet: SpanFleet) => Amount) => fleets.reduce((total, fleet) => addAmounts(total, of(fleet)), NO_AMOUNT);
  return {
    resources: fleets.reduce((total, { resources }) => total + resources, 0),
    alwaysOn: sum(({ alwaysOn }) => alwaysOn),
    projected: sum(({ projected }) => projected),
    levers: [{ lever: "hours", saves: sum(({ levers }) => levers[0]?.saves ?? NO_AMOUNT) }],
  };
}
