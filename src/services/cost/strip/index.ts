import { type Amount, microsOf, NO_AMOUNT } from "@/core/pricing";
import { HOUR_S, type Instant } from "@/core/time";
import { holdsBetween, priceBooks, storedCalendarList } from "@/store";
import { authorise, type Person, type Services } from "../../admin";
import { currencyOf, loadWorld } from "../../inventory";
import { hoursToCome } from "./ahead";
import { edgesAround, holdMarks, holidayMarks, type Mark } from "./marks";
import { hoursThatWere } from "./past";

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
  marks: readonly Mark[];
  /** Edges of any hours in force before and after `at`. */
  previous: Instant | null;
  next: Instant | null;
}>;

/** The 24 hours before and the 24 from now on; around the instant asked about where that lies beyond them. */
export async function timeStrip(services: Services, person: Person, asked: Instant | null = null): Promise<TimeStrip> {
  authorise(person, "look");
  const { pool } = services;
  const [{ now }, world, prices, calendars] = await Promise.all([
    services.clock.read(),
    loadWorld(services),
    priceBooks(pool),
    storedCalendarList(pool),
  ]);
  const at = asked ?? now;
  const thisHour = Math.floor(now / HOUR_S) * HOUR_S;
  const isNear = Math.abs(at - now) < (STRIP_HOURS - 1) * HOUR_S;
  const from = (isNear ? thisHour : Math.floor(at / HOUR_S) * HOUR_S) - STRIP_HOURS * HOUR_S;
  const to = from + 2 * STRIP_HOURS * HOUR_S;
  const holds = await holdsBetween(pool, { from, to });
  const were = await hoursThatWere(pool, { world, prices, from, to: Math.min(to, thisHour) });
  const window = { now, from: Math.max(from, thisHour), to };
  const come = window.from < to ? hoursToCome(world, prices, { holds, window }) : new Map<Instant, Amount>();
  return {
    now,
    at,
    from,
    micros: Array.from({ length: 2 * STRIP_HOURS }, (_, i) => {
      const hour = from + i * HOUR_S;
      return Number(microsOf(were.get(hour) ?? come.get(hour) ?? NO_AMOUNT));
    }),
    currency: currencyOf(world),
    marks: [...holdMarks(holds, { from, to }), ...holidayMarks(world, calendars, { from, to })],
    ...edgesAround(world, at),
  };
}

export type { Mark };
