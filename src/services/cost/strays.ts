import { z } from "zod";
import { type CoverRun, countsAt, coverOver, formatCents, microsOf, NO_RATE, roundedShares } from "@/core/pricing";
import { hoursFinder } from "@/core/rounds";
import { selectorText, tryParseSelector } from "@/core/selector";
import { billedRuns, cardAt } from "@/core/spend";
import { DEFAULT_AGES, findStrays, type Stray, type StrayAges, type StrayInput, straySums, strayTotal } from "@/core/strays";
import { DAY_S, formatDate, type Instant, tryParseDate, utcDate } from "@/core/time";
import {
  type Acknowledged,
  acknowledgedList,
  fullInventory,
  livesOf,
  maybeSetting,
  type Pool,
  type Prices,
  priceBooks,
  removeAcknowledged,
  saveAcknowledged,
  saveSetting,
  signal,
} from "@/store";
import { type Actor, authorise, ESTATE, RefusedError, type Services } from "../admin";
import { compileAll, currencyOf, type SnapshotAt, snapshotAt, snapshotFor } from "../inventory";
import { cardsOf } from "./cards";

/** A stray as it is shown: its money as text, and whether somebody said it is meant. */
export type StrayLine = Readonly<
  Omit<Stray, "perMonth"> & { perMonth: string; meant: Acknowledged | null; canStop: boolean; canHold: boolean }
>;

export type StrayPage = Readonly<{
  now: Instant;
  at: Instant;
  currency: string;
  ages: StrayAges;
  strays: readonly StrayLine[];
  /** Said to be meant, until their day. */
  meant: readonly StrayLine[];
  /** Each resource once. */
  total: string;
  /** What serves nobody, and what runs that nobody has thought of; they add up to the total. */
  nobody: Readonly<{ count: number; perMonth: string }>;
  unthought: Readonly<{ count: number; perMonth: string }>;
}>;

const agesSchema = z.strictObject({
  imageDays: z.number().int().min(1).max(3650),
  runDays: z.number().int().min(1).max(3650),
});
const AGES = "stray ages";

/** What costs and serves nobody, now or as of another instant. Shown parts of one kind are rounded on their own. */
export async function strayPage(services: Services, actor: Actor, at: Instant | null = null): Promise<StrayPage> {
  authorise(actor, "look", ESTATE);
  const snapshot = await snapshotFor(services, actor, at);
  const { ages, strays, meant } = await straysIn(services.pool, snapshot);
  const byKey = new Map(meant.map((one) => [one.stray, one]));
  const shown = roundedShares(strays.map(({ perMonth }) => perMonth));
  const lines = strays.map((stray, i): StrayLine => {
    const resource = snapshot.resources.find(({ id }) => id === stray.resourceId);
    const isNow = snapshot.tense === "now";
    return {
      ...stray,
      perMonth: formatCents(shown[i] as (typeof shown)[number]),
      meant: byKey.get(stray.key) ?? null,
      canStop: isNow && resource?.kind === "machine" && (resource.level > 0 || resource.state === "halted"),
      canHold: isNow && (resource?.fleet ?? null) !== null && (resource?.level ?? 0) > 0,
    };
  });
  const counted = strays.filter(({ key }) => !byKey.has(key));
  const sums = straySums(counted);
  const [nobody, unthought] = roundedShares([sums.nobody.perMonth, sums.unthought.perMonth]);
  const sumOf = (count: number, cents: typeof nobody) => ({ count, perMonth: formatCents(cents as NonNullable<typeof nobody>) });
  return {
    now: snapshot.now,
    at: snapshot.at,
    currency: currencyOf(snapshot),
    ages,
    nobody: sumOf(sums.nobody.count, nobody),
    unthought: sumOf(sums.unthought.count, unthought),
    strays: lines.filter((line) => line.meant === null),
    meant: lines.filter((line) => line.meant !== null),
    total: formatCents(microsOf(strayTotal(counted))),
  };
}

const USE_DAYS = 7;

/** The strays of a snapshot with what is said to be meant; for the page, for Burn's sentence and for reports. */
export async function straysIn(
  pool: Pool,
  snapshot: SnapshotAt,
): Promise<{ ages: StrayAges; strays: readonly Stray[]; meant: readonly Acknowledged[]; input: StrayInput }> {
  const [ages, prices, meant] = await Promise.all([
    maybeSetting(pool, AGES, agesSchema),
    priceBooks(pool),
    acknowledgedList(pool, utcDate(snapshot.at)),
  ]);
  const cards = cardsOf(prices, snapshot.capabilities);
  const input: StrayInput = {
    now: snapshot.at,
    ages: ages ?? DEFAULT_AGES,
    resources: snapshot.resources,
    fleets: snapshot.fleets.flatMap(({ inForce, draft, retiredAt }): StrayInput["fleets"][number][] => {
      if (inForce) return [inForce];
      if (retiredAt !== null && retiredAt <= snapshot.at) return [];
      const { name, select, hours } = draft;
      // A draft whose selector is half typed matches nothing yet.
      return tryParseSelector(select).ok
        ? [{ name, select: selectorText(select), hours: hours ?? undefined, isDraft: true }]
        : [];
    }),
    hoursOf: hoursFinder(compileAll(snapshot.schedules, snapshot.calendars), snapshot.capabilities),
    cardOf: (resource) => cardAt(cards(resource, snapshot.at, snapshot.at + 1) ?? [], snapshot.at),
    commitments: await usedCommitments(pool, snapshot, prices),
  };
  return { ages: input.ages, strays: findStrays(input), meant, input };
}

/** The commitments of now with the units that were in use on average over the last week. */
async function usedCommitments(pool: Pool, snapshot: SnapshotAt, prices: Prices) {
  const { commitments } = prices;
  const to = Math.min(snapshot.at, snapshot.now);
  const from = to - USE_DAYS * DAY_S;
  const counting = commitments.filter((commitment) => countsAt(commitment, snapshot.at));
  if (counting.length === 0) return [];
  const all = await fullInventory(pool);
  const lives = await livesOf(pool, null, { from, to });
  const cardsOver = cardsOf(prices, snapshot.capabilities);
  const runs = all.flatMap((one): CoverRun[] =>
    billedRuns(lives.get(one.id) ?? [], cardsOver(one, from, to) ?? []).map((run) => ({ ...run, one, perLevel: NO_RATE })),
  );
  const { usedS } = coverOver(counting, runs, { from, to });
  return counting.map((commitment, i) => ({ commitment, averageUsed: (usedS[i] ?? 0) / (to - from) }));
}

const REASON_MAX = 300;

/** Says that a stray is meant up to a UTC day, or takes that back where the day is null. */
export async function acknowledge(
  services: Services,
  actor: Actor,
  { key, untilDay, reason }: { key: string; untilDay: string | null; reason: string },
): Promise<void> {
  authorise(actor, "hold", ESTATE);
  const { now } = await services.clock.read();
  if (untilDay === null) {
    if (!(await removeAcknowledged(services.pool, key))) throw new RefusedError("not_found", "It is not marked as meant.");
  } else {
    const day = tryParseDate(untilDay);
    const today = Math.floor(now / DAY_S);
    const why = reason.trim();
    const fields = [
      ...(day === null || day < today || day > today + 3650
        ? [{ path: "untilDay", message: `expected a date from ${formatDate(today)} on, within ten years` }]
        : []),
      ...(why === "" || why.length > REASON_MAX
        ? [{ path: "reason", message: `a word of why is asked for, at most ${REASON_MAX} characters` }]
        : []),
    ];
    if (fields.length > 0) throw new RefusedError("invalid", fields[0]?.message ?? "", fields);
    const { strays } = await straysIn(services.pool, await snapshotAt(services, null));
    if (!strays.some((stray) => stray.key === key)) throw new RefusedError("not_found", "That stray is no longer there.");
    await saveAcknowledged(services.pool, { stray: key, untilDay, reason: why, person: actor.name, at: now });
  }
  await signal(services.pool, "spend");
}

/** Sets from how many days on an image is old and a run long. */
export async function setStrayAges(services: Services, actor: Actor, ages: StrayAges): Promise<void> {
  authorise(actor, "edit plans", ESTATE);
  const checked = agesSchema.safeParse(ages);
  if (!checked.success) throw new RefusedError("invalid", "Days are whole numbers from 1 to 3650.");
  await saveSetting(services.pool, AGES, checked.data);
  await signal(services.pool, "spend");
}
