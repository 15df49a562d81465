"use client";
import { useCallback, useMemo } from "react";
import { asLevel, type CompiledSchedule } from "@/core/hours";
import { type Mix, type MixFigures, mixSchema, mostWanted, overTarget, type SeenPrices } from "@/core/mix";
import type { Amount } from "@/core/pricing";
import type { Line, MixLever, MixSaving, Month } from "@/core/projection";
import { hoursTarget } from "@/core/targets";
import { DAY_S, type Instant } from "@/core/time";
import type { MixOffers } from "@/services/mix";
import { useSame } from "../kit/use-same";
import { asOfNow } from "./mix-of";
import { type Over, useMix, useOffers } from "./use-mix";

export const MIX_DAYS = 7;
/** Billionths of the currency a 730-hour month and second: what amounts are counted in. */
const PER_UNIT = 1e9 * 3_600 * 730;

export type MixView = Omit<ReturnType<typeof useMix>, "months"> &
  Readonly<{
    offers: MixOffers | null;
    isRead: boolean;
    unread: string | null;
    /** The draft's mix over the coming week, by its hours; null where it cannot be simulated. */
    mix: Mix | null;
    /** Lays a mix out the same way, over a week or so many days. */
    laid: (mix: Mix | undefined, days?: number) => Mix | null;
    /** What it is simulated over. */
    over: Over;
    from: Instant;
    /** What it takes off in the ledger; null until it was simulated. */
    lever: MixLever | null;
  }>;

export type MixInput = Readonly<{
  fleetId: number;
  selector: string;
  mix: Mix | undefined;
  /** The hours that say how many are wanted when; null where nothing says so. */
  schedule: CompiledSchedule | null;
  now: Instant;
  /** The months that the ledger is of. */
  months: readonly Month[];
  lines: readonly Line[];
  /** Whether what could be had is asked for, with or without a mix. */
  isAsked: boolean;
}>;

/** Simulates the mix of a draft anew at every edit; the course shows it, and the ledger counts with it. */
export function useMixView({ fleetId, selector, mix, schedule, now, months, lines, isAsked }: MixInput): MixView {
  const { offers, isRead, problem: unread } = useOffers(isAsked ? selector : null, fleetId);
  const from = Math.floor(now / 3600) * 3600;
  // By the hour: a clock that ticks is no other mix.
  const laidOver = useCallback(
    (one: Mix | undefined, span: Readonly<{ from: Instant; to: Instant }>) => {
      if (!one || !offers) return null;
      const present = asOfNow(one, offers);
      const all = mostWanted(present.wanted);
      const over = schedule ? overTarget(present, hoursTarget(schedule, { leadMinutes: 0, all }), span) : present;
      return mixSchema.safeParse(over).success ? over : null;
    },
    [offers, schedule],
  );
  const laid = useCallback(
    (one: Mix | undefined, days = MIX_DAYS) => laidOver(one, { from, to: from + days * DAY_S }),
    [laidOver, from],
  );
  // An edit of something else lays out the same mix again: its simulation goes on.
  const simulatedMix = useSame(useMemo(() => laid(mix), [laid, mix]));
  const over = useMemo(() => ({ days: MIX_DAYS, prices: pricesOf(offers) }), [offers]);
  const laidMonths = useSame(
    useMemo(
      () =>
        months.flatMap((month) => {
          const one = laidOver(mix, month);
          return one ? [{ mix: one, days: (month.to - month.from) / DAY_S, prices: over.prices }] : [];
        }),
      [months, laidOver, mix, over],
    ),
  );
  const simulating = useMix(simulatedMix, over, laidMonths);
  const { simulated, months: figures } = simulating;
  const lever = useMemo((): MixLever | null => {
    const groups = lines.map(({ kind, isLeft }) => kind === "group" && !isLeft);
    // As rounds keep it: for one group.
    if (!simulated || !simulatedMix || !offers || groups.filter(Boolean).length !== 1) return null;
    // The ledger counts what there is at the price that it has: that may be spot already.
    const money = (value: number) => BigInt(Math.round(value * PER_UNIT)) as Amount;
    const savingOf = ({ saving }: MixFigures, hours: number): MixSaving => {
      const amount = (value: number) => money(value - (offers.firmPrice - offers.ownPrice) * hours);
      return { mean: amount(saving.mean), spread: { p5: amount(saving.p5), p50: amount(saving.p50), p95: amount(saving.p95) } };
    };
    // A month of which the mix can be laid on none is none of them.
    const isWhole = laidMonths.length === months.length;
    const hours = unitHours(simulatedMix, MIX_DAYS);
    return {
      kind: "mix",
      ...savingOf(simulated.figures, hours),
      months: laidMonths.map(({ mix: one, days }, m) => {
        const known = isWhole ? figures[m] : undefined;
        return known ? savingOf(known, unitHours(one, days)) : null;
      }),
      of: money(offers.ownPrice * hours),
      firm: simulatedMix.firm,
      units: schedule || typeof simulatedMix.wanted !== "number" ? null : asLevel(simulatedMix.wanted),
      lines: groups,
    };
  }, [simulated, simulatedMix, offers, lines, schedule, laidMonths, months, figures]);
  const { months: _, ...shown } = simulating;
  return { ...shown, over, offers, isRead, unread, mix: simulatedMix, laid, from, lever };
}

function pricesOf(offers: MixOffers | null): SeenPrices {
  return Object.fromEntries((offers?.offers ?? []).map(({ name, prices }) => [name, prices]));
}

function unitHours({ wanted }: Mix, days: number): number {
  if (typeof wanted === "number") return wanted * days * 24;
  return wanted.reduce((sum, { from, to, units }) => sum + (to - from) * units, 0);
}
