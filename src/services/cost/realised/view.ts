import { type Amount, formatCents, type Micros, microsOf, NO_AMOUNT, roundedCents, roundedShares } from "@/core/pricing";
import { GAP_CAUSES, type GapCause } from "@/core/realised";
import { DAY_S, formatDate } from "@/core/time";
import { type RealisedDay, realisedDays } from "@/store";
import { authorise, type Person, type Services } from "../../admin";
import { currencyOf, loadWorld } from "../../inventory";

/** A fleet over the days shown: what it would have cost, what was paid, what was projected, and why they differ. */
export type RealisedFleet = Readonly<{
  fleet: string;
  lever: string;
  days: number;
  baseline: string;
  alwaysOn: string;
  paid: string;
  saved: string;
  projected: string;
  gap: string;
  swallowed: string;
  causes: readonly Readonly<{ cause: GapCause; amount: string }>[];
}>;

export type RealisedView = Readonly<{
  from: string;
  to: string;
  currency: string;
  /** Of all fleets; their lines add up to it. */
  total: Readonly<{ saved: string; projected: string }>;
  fleets: readonly RealisedFleet[];
  /** By day, all fleets shown together, as numbers for a chart. */
  series: readonly Readonly<{ day: string; saved: number; projected: number }>[];
  fleet: string | null;
}>;

const DAYS = 30;

/** Realised savings of the last days beside their projection, of all fleets or of one. Shown causes add up to the shown gap. */
export async function realisedView(
  services: Services,
  person: Person,
  { fleet }: { fleet: string | null },
): Promise<RealisedView> {
  authorise(person, "look");
  const [{ now }, world] = await Promise.all([services.clock.read(), loadWorld(services)]);
  const today = Math.floor(now / DAY_S);
  const span = { from: formatDate(today - DAYS), to: formatDate(today - 1) };
  const all = await realisedDays(services.pool, span);
  const shown = fleet === null ? all : all.filter((one) => one.fleet === fleet);
  const byFleet = [...new Set(all.map((one) => one.fleet))].map((name) => all.filter((one) => one.fleet === name));
  const saved = byFleet.map((days) => sumOf(days, savedOn));
  const projected = byFleet.map((days) => sumOf(days, projectedOn));
  const [savedCents, projectedCents] = [roundedShares(saved), roundedShares(projected)];
  return {
    ...span,
    currency: currencyOf(world),
    total: { saved: centsText(roundedCents(saved)), projected: centsText(roundedCents(projected)) },
    fleets: byFleet.map((days, i) => ({
      ...fleetOf(days),
      saved: formatCents(savedCents[i] as Micros),
      projected: formatCents(projectedCents[i] as Micros),
    })),
    series: [...new Set(shown.map(({ day }) => day))].map((day) => {
      const own = shown.filter((one) => one.day === day);
      const number = (of: (one: RealisedDay) => bigint) => Number(own.reduce((sum, one) => sum + of(one), 0n)) / 2.628e15;
      return {
        day,
        saved: number(savedOn),
        projected: number(projectedOn),
      };
    }),
    fleet,
  };
}

/** As it ran before the plan, where that is known; always on otherwise. */
function baselineOf({ before, alwaysOn }: RealisedDay): bigint {
  return before ?? alwaysOn;
}

function savedOn(one: RealisedDay): bigint {
  return baselineOf(one) - one.paid;
}

function projectedOn(one: RealisedDay): bigint {
  return baselineOf(one) - one.projected;
}

function sumOf(days: readonly RealisedDay[], of: (one: RealisedDay) => bigint): Amount {
  return days.reduce((total, one) => total + of(one), NO_AMOUNT as bigint) as Amount;
}

function centsText(cents: bigint): string {
  return formatCents((cents * 10_000n) as Micros);
}

function fleetOf(days: readonly RealisedDay[]): Omit<RealisedFleet, "saved" | "projected"> {
  const sum = (of: (one: RealisedDay) => bigint) => sumOf(days, of);
  const [first] = days as [RealisedDay];
  const amounts = GAP_CAUSES.map((cause) => sum((one) => one.gap[cause]));
  const cents = roundedShares(amounts);
  const text = (amount: Amount) => formatCents(microsOf(amount));
  return {
    fleet: first.fleet,
    lever: first.lever,
    days: days.length,
    baseline: text(sum(baselineOf)),
    alwaysOn: text(sum((one) => one.alwaysOn)),
    paid: text(sum((one) => one.paid)),
    gap: centsText(roundedCents(amounts)),
    swallowed: text(sum((one) => one.swallowed)),
    causes: GAP_CAUSES.map((cause, i) => ({ cause, amount: formatCents(cents[i] as Micros) })).filter(
      ({ amount }) => amount !== "0.00",
    ),
  };
}
