import { leverWords } from "@/core/levers";
import {
  type Amount,
  centsOf,
  formatCents,
  type Micros,
  type MoneyView,
  microsOf,
  NO_AMOUNT,
  roundedShares,
} from "@/core/pricing";
import type { LeverKind } from "@/core/projection";
import { GAP_CAUSES, type GapCause } from "@/core/realised";
import { DAY_S, formatDate } from "@/core/time";
import { type RealisedDay, realisedDays } from "@/store";
import { type Actor, authorise, ESTATE, type Services } from "../../admin";
import { currencyOf, loadSnapshot } from "../../inventory";
import { missedBy, promisedInAll } from "./promised";

/** A fleet over the days shown: what it would have cost, what was paid, what was projected, and why they differ. */
export type RealisedFleet = Readonly<{
  fleet: string;
  lever: string;
  days: number;
  /** The days that "as before" rests on, from the first to the last; null where there is none and always on stands for it. */
  basis: Readonly<{ from: string; to: string; days: number }> | null;
  baseline: string;
  alwaysOn: string;
  paid: string;
  saved: string;
  /** What of it idle alarms saved; what is left is the hours'. */
  savedByIdle: string;
  /** What of it the mix saved; below 0 what it cost more. */
  savedByMix: string;
  /** Days on which what the mix saved lay within the interval that was forecast, of those with one. */
  mixWithin: Readonly<{ days: number; of: number }> | null;
  projected: string;
  /** What was saved less than projected; the causes add up to it. */
  gap: string;
  coveredAnyway: string;
  causes: readonly Readonly<{ cause: ShownCause; amount: string }>[];
  /** In neither figure: what new resources cost, what gone ones would have, and what prices made dearer than at the time of the plan. */
  besides: readonly Readonly<{ cause: "new resources" | "gone resources" | "price changes"; amount: string }>[];
  /** Of what was paid: more than a hundredth unexplained is a defect. */
  isUnexplained: boolean;
}>;

export type ShownCause = GapCause | "commitments";

export type RealisedView = Readonly<{
  from: string;
  to: string;
  currency: string;
  view: MoneyView;
  /** Of all fleets; their lines add up to it. */
  total: Readonly<{ baseline: string; paid: string; saved: string; projected: string }>;
  fleets: readonly RealisedFleet[];
  /** By day, all fleets shown together, as numbers for a chart. */
  series: readonly Readonly<{ day: string; saved: number; projected: number; idle: number; mix: MixOfDay | null }>[];
  fleet: string | null;
}>;

/** What a mix saved on a day, and 5 and 95 of 100 such days were expected to. */
export type MixOfDay = Readonly<{ saved: number; low: number; high: number }>;

const DAYS = 30;
/** What came or went belongs to no comparison: it is told beside it. */
const BESIDES = ["new resources", "gone resources"] as const;
/** What commitments had paid for more than was projected is a cause of its own, after them. */
const SHOWN_CAUSES: readonly ShownCause[] = [
  ...GAP_CAUSES.filter((cause) => !BESIDES.some((one) => one === cause)),
  "commitments",
];
const CENT = 10_000n;

export type RealisedQuery = Readonly<{ fleet: string | null; view?: MoneyView }>;

/**
 * Realised savings of the last days beside their projection, of all fleets or of one, at the prices
 * of each day. In every row saved is what it was compared with less what was paid, in every column
 * the rows add up, and the causes add up to the gap: in whole cents, as shown.
 */
export async function realisedView(
  services: Services,
  actor: Actor,
  { fleet, view = "after" }: RealisedQuery,
): Promise<RealisedView> {
  authorise(actor, "look", ESTATE);
  const [{ now }, snapshot] = await Promise.all([services.clock.read(), loadSnapshot(services)]);
  const today = Math.floor(now / DAY_S);
  const span = { from: formatDate(today - DAYS), to: formatDate(today - 1) };
  const all = await realisedDays(services.pool, span);
  const shown = fleet === null ? all : all.filter((one) => one.fleet === fleet);
  const byFleet = [...new Set(all.map((one) => one.fleet))].map((name) => all.filter((one) => one.fleet === name));
  const reader = readerOf(view);
  // Baselines and what was saved are rounded so that their columns add up; what was paid follows from them.
  const saved = byFleet.map((days) => sumOf(days, reader.saved));
  const projected = byFleet.map((days) => sumOf(days, reader.projectedSaving));
  const baseline = byFleet.map((days) => sumOf(days, reader.baseline));
  const cents = [saved, projected, baseline].map((column) => roundedShares(column)) as [Micros[], Micros[], Micros[]];
  const total = (column: readonly Micros[]) => column.reduce((sum, micros) => sum + micros, 0n) as Micros;
  return {
    ...span,
    currency: currencyOf(snapshot),
    view,
    total: {
      baseline: formatCents(total(cents[2])),
      paid: formatCents((total(cents[2]) - total(cents[0])) as Micros),
      saved: formatCents(total(cents[0])),
      projected: formatCents(total(cents[1])),
    },
    fleets: byFleet.map((days, i) =>
      fleetOf(days, {
        saved: cents[0][i] as Micros,
        projected: cents[1][i] as Micros,
        baseline: cents[2][i] as Micros,
        isNet: view === "after",
      }),
    ),
    series: [...new Set(shown.map(({ day }) => day))].map((day) => {
      const own = shown.filter((one) => one.day === day);
      const number = (of: (one: RealisedDay) => bigint) => Number(own.reduce((sum, one) => sum + of(one), 0n)) / PER_UNIT;
      return {
        day,
        saved: number(reader.saved),
        projected: number(reader.projectedSaving),
        idle: number((one) => -one.gap["idle alarms"]),
        mix: mixOf(own),
      };
    }),
    fleet,
  };
}

const PER_UNIT = 2.628e15;

/** What a lever saved over the days on which it was foretold, beside what was; null where it never was. */
function foretoldOf(days: readonly RealisedDay[], lever: LeverKind): MixOfDay | null {
  const known = days.flatMap((one) =>
    one.levers.flatMap(({ lever: own, saved, forecast }) => (own === lever && forecast ? [{ saved, forecast }] : [])),
  );
  if (known.length === 0) return null;
  const sum = (of: (one: (typeof known)[number]) => bigint) =>
    Number(known.reduce((total, one) => total + of(one), 0n)) / PER_UNIT;
  return { saved: sum(({ saved }) => saved), low: sum(({ forecast }) => forecast.p5), high: sum(({ forecast }) => forecast.p95) };
}

/** What mixes saved over some days of fleets, beside what was forecast; null where none was. */
export function mixOf(days: readonly RealisedDay[]): MixOfDay | null {
  return foretoldOf(days, "mix");
}

type Reader = Readonly<Record<"baseline" | "saved" | "projectedSaving", (one: RealisedDay) => bigint>>;

/** After commitments a saving is less by what they had paid for anyway, and what was paid and what it is compared with by what they carried. */
function readerOf(view: MoneyView): Reader {
  const net = (amount: bigint) => (view === "after" ? amount : 0n);
  return {
    baseline: (one) => baselineOf(one) - net(one.coveredAnyway + one.covered),
    saved: (one) => baselineOf(one) - one.paid - net(one.coveredAnyway),
    projectedSaving: (one) =>
      baselineOf(one) -
      one.projected +
      promisedInAll(one) -
      one.gap["new resources"] -
      one.gap["gone resources"] -
      net(one.coveredAnywayProjected),
  };
}

/** As it ran before the plan, where that is known; always on otherwise. */
function baselineOf({ before, alwaysOn }: RealisedDay): bigint {
  return before ?? alwaysOn;
}

function sumOf(days: readonly RealisedDay[], of: (one: RealisedDay) => bigint): Amount {
  return days.reduce((total, one) => total + of(one), NO_AMOUNT as bigint) as Amount;
}

type Rounded = Readonly<Record<"saved" | "projected" | "baseline", Micros> & { isNet: boolean }>;

function fleetOf(days: readonly RealisedDay[], { saved, projected, baseline, isNet }: Rounded): RealisedFleet {
  const sum = (of: (one: RealisedDay) => bigint) => sumOf(days, of);
  const [first] = days as [RealisedDay];
  const pulled = [...new Set(days.flatMap((one) => one.levers.map(({ lever }) => lever)))];
  const cents = (amount: Amount) => (centsOf(amount) * CENT) as Micros;
  const max = (a: Micros, b: Micros) => (a > b ? a : b);
  const text = (amount: Amount) => formatCents(microsOf(amount));
  const gap = (projected - saved) as Micros;
  const amounts = SHOWN_CAUSES.map((cause) =>
    cause !== "commitments"
      ? sum((one) => missedBy(one, cause))
      : isNet
        ? sum((one) => one.coveredAnyway - one.coveredAnywayProjected)
        : NO_AMOUNT,
  );
  const causeCents = roundedShares(amounts, gap / CENT);
  const basis = [...new Set(days.flatMap((one) => one.basis))].sort();
  const besides = [
    ...BESIDES.map((cause) => ({ cause, amount: sum((one) => one.gap[cause]) })),
    { cause: "price changes" as const, amount: sum((one) => one.priceEffect) },
  ];
  const unexplained = sum((one) => one.gap.unexplained) as bigint;
  const paid = sum((one) => one.paid) as bigint;
  const alwaysOn = sum((one) => one.alwaysOn);
  const isBelow = sum(baselineOf) <= alwaysOn;
  return {
    fleet: first.fleet,
    lever: leverWords(pulled),
    days: days.length,
    basis: basis.length === 0 ? null : { from: basis[0] as string, to: basis.at(-1) as string, days: basis.length },
    baseline: formatCents(baseline),
    // Where they are the same, the cent that a row got so that its column adds up is in both.
    alwaysOn: formatCents(isBelow ? max(cents(alwaysOn), baseline) : cents(alwaysOn)),
    paid: formatCents((baseline - saved) as Micros),
    saved: formatCents(saved),
    // Where nothing else was pulled, all of it is theirs.
    savedByIdle:
      pulled.length === 1 && pulled[0] === "idle"
        ? formatCents(saved)
        : text(-(sum((one) => one.gap["idle alarms"]) as bigint) as Amount),
    savedByMix: text(-(sum((one) => one.gap["the mix"]) as bigint) as Amount),
    mixWithin: withinOf(days),
    projected: formatCents(projected),
    gap: formatCents(gap),
    coveredAnyway: text(sum((one) => one.coveredAnyway)),
    causes: SHOWN_CAUSES.map((cause, i) => ({ cause, amount: formatCents(causeCents[i] as Micros) })).filter(
      ({ amount }) => amount !== "0.00",
    ),
    besides: besides.filter(({ amount }) => amount !== 0n).map(({ cause, amount }) => ({ cause, amount: text(amount) })),
    isUnexplained: (unexplained < 0n ? -unexplained : unexplained) * 100n > paid,
  };
}

function withinOf(days: readonly RealisedDay[]): RealisedFleet["mixWithin"] {
  const own = days.flatMap((day) => mixOf([day]) ?? []);
  return own.length === 0
    ? null
    : { of: own.length, days: own.filter(({ saved, low, high }) => saved >= low && saved <= high).length };
}
