import { type Amount, addAmounts, type MoneyView, microsOf, NO_AMOUNT } from "@/core/pricing";
import { HOUR_S, type Instant } from "@/core/time";
import { overridesBetween, priceBooks, storedCalendarList } from "@/store";
import { type Actor, authorise, ESTATE, type Services } from "../../admin";
import { currencyOf, loadSnapshot, withPlansAt } from "../../inventory";
import { hoursToCome } from "./ahead";
import { edgesAround, holdMarks, holidayMarks, type Mark } from "./marks";
import { hourSoFar, hoursThatWere } from "./past";

const STRIP_HOURS = 24;

/** Money per hour around an instant: what ran, then what is due to run if plans are kept and all else stays. */
export type TimeStrip = Readonly<{
  now: Instant;
  /** The instant that the application answers as of. */
  at: Instant;
  /** The first instant of the first hour. */
  from: Instant;
  /** One amount an hour, in millionths of the currency; the hour that holds now is the first of the future. */
  micros: readonly number[];
  currency: string;
  view: MoneyView;
  marks: readonly Mark[];
  /** Edges of any hours in force before and after `at`. */
  previous: Instant | null;
  next: Instant | null;
}>;

export type StripQuery = Readonly<{ at?: Instant | null; view?: MoneyView }>;

/** The 24 hours before and the 24 from now on; around the instant asked about where that lies beyond them. */
export async function timeStrip(
  services: Services,
  actor: Actor,
  { at: asked = null, view = "after" }: StripQuery = {},
): Promise<TimeStrip> {
  authorise(actor, "look", ESTATE);
  const { pool } = services;
  const [{ now }, snapshot, prices, calendars] = await Promise.all([
    services.clock.read(),
    loadSnapshot(services),
    priceBooks(pool, view),
    storedCalendarList(pool),
  ]);
  const at = asked ?? now;
  const thisHour = Math.floor(now / HOUR_S) * HOUR_S;
  const isNear = Math.abs(at - now) < (STRIP_HOURS - 1) * HOUR_S;
  const from = (isNear ? thisHour : Math.floor(at / HOUR_S) * HOUR_S) - STRIP_HOURS * HOUR_S;
  const to = from + 2 * STRIP_HOURS * HOUR_S;
  const holds = await overridesBetween(pool, { from: Math.min(from, now), to });
  const were = await hoursThatWere(pool, { snapshot, from, to: Math.min(to, thisHour) });
  const window = { now, from: Math.max(from, thisHour), to };
  const come = window.from < to ? hoursToCome(snapshot, prices, { holds, window }) : new Map<Instant, Amount>();
  // The hour that holds now: what it has cost so far, and what is still to come of it.
  if (window.from === thisHour && thisHour < now) {
    const soFar = await hourSoFar(pool, { snapshot, prices, from: thisHour, now });
    come.set(thisHour, addAmounts(soFar, come.get(thisHour) ?? NO_AMOUNT));
  }
  const then = at < now ? await withPlansAt(pool, snapshot, at) : snapshot;
  return {
    now,
    at,
    from,
    micros: Array.from({ length: 2 * STRIP_HOURS }, (_, i) => {
      const hour = from + i * HOUR_S;
      return Number(microsOf(were.get(hour)?.[view] ?? come.get(hour) ?? NO_AMOUNT));
    }),
    currency: currencyOf(snapshot),
    view,
    marks: [...holdMarks(holds, { from, to }), ...holidayMarks(then, calendars, { from, to })],
    ...edgesAround(then, at),
  };
}

export type { Mark };
