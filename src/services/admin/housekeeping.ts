import { DAY_S, type Instant, utcDate } from "@/core/time";
import { log } from "@/log";
import {
  dropHosts,
  dropLateness,
  dropMetricNames,
  dropSessionEvents,
  ensureMonths,
  forgetAlarmChanges,
  forgetJournal,
  forgetLikelyUse,
  forgetRefusedChunks,
  forgetStates,
  MONTHLY,
  type Monthly,
  monthAfter,
  monthsOf,
  otherClocks,
  rollUpMonth,
} from "@/store";
import { type Actor, authorise, ESTATE } from "./actor";
import type { Services } from "./context";

/** How many whole months of detail are kept; what is older is added up by month (docs/operations.md says so too). */
export const KEPT_MONTHS: Readonly<Record<Monthly, number>> = { metric_day: 6, usage_line: 13, spend_day: 37 };
/** Rounds, decisions, actions and deliveries are kept for thirteen months. */
export const JOURNAL_DAYS = 396;
/** A host that a source named no more for so long is forgotten, and so is the name of a metric. */
const KEPT_HOSTS_DAYS = 30;
const MONTH_DAYS = 31;
const AHEAD_MONTHS = 2;

/** A quiet estate tells of nothing for so long before its clock is not believed. */
const QUIET_S = 2 * DAY_S;

/**
 * The earliest that now may be: by our clock, by the database's (but for a demo, whose clock is its own), and by the newest that any
 * provider has told of. Nothing is dropped that is not old by all of them.
 */
async function leastNow({ pool, clock }: Services): Promise<Instant> {
  const [{ now, isDemo }, { database, newest }] = await Promise.all([clock.read(), otherClocks(pool)]);
  const least = Math.min(now, isDemo ? now : database, newest === null ? now : newest + QUIET_S);
  if (now - least > QUIET_S)
    log.warn({ now, database, newest }, "the clock is ahead of all else that is known: less is forgotten");
  return least;
}

/** Makes the partitions of the coming months, and adds old detail up. Safe to repeat. */
export async function keepHouse(services: Services, actor: Actor): Promise<{ rolledUp: number }> {
  authorise(actor, "work", ESTATE);
  const { pool } = services;
  const { now: told } = await services.clock.read();
  const now = await leastNow(services);
  let rolledUp = 0;
  for (const table of MONTHLY) {
    await ensureMonths(
      pool,
      table,
      Array.from({ length: AHEAD_MONTHS + 1 }, (_, i) => monthAfter(utcDate(told).slice(0, 7), i)),
    );
    // One month of a table in a run: what a wrong clock takes for old is seen before there is much of it.
    const oldest = monthAfter(utcDate(now).slice(0, 7), -KEPT_MONTHS[table]);
    const old = (await monthsOf(pool, table)).filter((one) => one < oldest).sort()[0];
    if (old === undefined) continue;
    await rollUpMonth(pool, table, old);
    rolledUp++;
  }
  await forgetRefusedChunks(pool);
  await forgetJournal(pool, now - JOURNAL_DAYS * DAY_S);
  await dropSessionEvents(pool, now - 2 * DAY_S);
  await dropHosts(pool, now - KEPT_HOSTS_DAYS * DAY_S);
  await dropMetricNames(pool, now - KEPT_HOSTS_DAYS * DAY_S);
  await dropLateness(pool, now - 2 * DAY_S);
  await forgetLikelyUse(pool, now - JOURNAL_DAYS * DAY_S);
  await forgetAlarmChanges(pool, now - JOURNAL_DAYS * DAY_S);
  // A life is told back to the oldest day that is kept in detail, and a month more.
  await forgetStates(pool, now - (KEPT_MONTHS.spend_day + 1) * MONTH_DAYS * DAY_S);
  return { rolledUp };
}
