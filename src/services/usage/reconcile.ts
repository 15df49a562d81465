import { capabilitiesFor, isSchedulable, providerIdOf, type Resource, resourceKey } from "@/core/plan";
import { type Amount, divideHalfEven, formatMicros, type Micros, microsOf, tryParseDecimal } from "@/core/pricing";
import { totalOf } from "@/core/spend";
import { DAY_S, dayNumber, formatDate, tryParseDate } from "@/core/time";
import {
  type BilledDay,
  billedDays,
  closedDay,
  fullInventory,
  METER,
  meterReadThrough,
  priceBooks,
  type SpendDay,
  spendDayList,
} from "@/store";
import { type Actor, authorise, ESTATE, RefusedError, type Services } from "../admin";
import { isCommitmentKey } from "../cost";
import { currencyOf, loadSnapshot, type Snapshot } from "../inventory";
import { expectedDifferences } from "./expected";

/** Where computed and metered differ: one resource on one day, the difference and why, where that is known. */
export type Difference = Readonly<{
  day: string;
  resourceId: string;
  name: string;
  account: string;
  computed: string;
  metered: string;
  difference: string;
  reason: string;
}>;

/** A difference that was to be expected, and is taken off before the rest is looked at. */
export type ExpectedSum = Readonly<{ reason: "a price set by hand" | "a discount"; count: number; difference: string }>;

export type Reconciliation = Readonly<{
  from: string;
  to: string;
  currency: string;
  /** By day, all resources together, in six decimals. */
  days: readonly Readonly<{ day: string; computed: string; metered: string; difference: string }>[];
  /** What is left once expected differences are taken off, the largest first, a page of it; those within a millionth a line are the same. */
  differences: readonly Difference[];
  differenceCount: number;
  offset: number;
  agreeing: number;
  expected: readonly ExpectedSum[];
  /** Reasons with how many differences each explains, and what they come to together. */
  reasons: readonly Readonly<{ reason: string; count: number; difference: string }>[];
  readThrough: string | null;
  closedThrough: string | null;
}>;

export const DIFFERENCES_PAGE = 500;
const UNKNOWN = "not known";

export type ReconcileQuery = Readonly<{ from: string | null; to: string | null; importId?: number; offset?: number }>;

/** What was computed from state changes beside what the meter or an imported bill says, for UTC days, both included. */
export async function reconcile(
  services: Services,
  actor: Actor,
  { from, to, importId = METER, offset = 0 }: ReconcileQuery,
): Promise<Reconciliation> {
  authorise(actor, "look", ESTATE);
  const { pool } = services;
  const [snapshot, readThrough, closedThrough] = await Promise.all([
    loadSnapshot(services),
    meterReadThrough(pool),
    closedDay(pool),
  ]);
  const span = await spanOf(services, { from, to });
  const [spend, billed, prices, all] = await Promise.all([
    spendDayList(pool, span),
    billedDays(pool, { importId, ...span }),
    priceBooks(pool),
    fullInventory(pool),
  ]);
  const pairs = pairUp(spend, billed, keyReader(all));
  const byId = new Map(all.map((resource) => [resource.id, resource]));
  const expectedOf = await expectedDifferences(pool, { all, snapshot, prices, span });
  const expected = { hand: { count: 0, micros: 0n }, discount: { count: 0, micros: 0n } };
  const found: (Difference & { micros: bigint })[] = [];
  let agreeing = 0;
  const days = new Map<string, { computed: bigint; metered: bigint }>();
  for (const pair of pairs) {
    const sum = days.get(pair.day) ?? { computed: 0n, metered: 0n };
    days.set(pair.day, { computed: sum.computed + pair.computed, metered: sum.metered + pair.metered });
    const due = expectedOf(pair.resourceId, pair.day);
    for (const reason of ["hand", "discount"] as const) {
      if (due[reason] === 0n) continue;
      expected[reason].count++;
      expected[reason].micros += due[reason];
    }
    const micros = pair.computed - pair.metered - due.hand - due.discount;
    // Each metered line was rounded to a millionth on its own.
    if (absolute(micros) <= BigInt(Math.max(1, pair.lines))) {
      agreeing++;
      continue;
    }
    const resource = byId.get(pair.resourceId);
    found.push({
      day: pair.day,
      resourceId: pair.resourceId,
      name: resource?.name ?? providerIdOf(pair.resourceId, pair.account),
      account: resource?.fields.account ?? pair.account,
      computed: formatMicros(pair.computed as Micros),
      metered: formatMicros(pair.metered as Micros),
      difference: formatMicros(micros as Micros),
      reason: reasonOf({ ...pair, computed: pair.metered + micros }, { resource, snapshot, closedThrough, readThrough }),
      micros,
    });
  }
  found.sort((a, b) => (absolute(a.micros) < absolute(b.micros) ? 1 : -1));
  return {
    ...span,
    currency: currencyOf(snapshot),
    days: [...days]
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([day, { computed, metered }]) => ({
        day,
        computed: formatMicros(computed as Micros),
        metered: formatMicros(metered as Micros),
        difference: formatMicros((computed - metered) as Micros),
      })),
    differences: found.slice(offset, offset + DIFFERENCES_PAGE).map(({ micros: _, ...difference }) => difference),
    differenceCount: found.length,
    offset,
    agreeing,
    expected: [
      { reason: "a price set by hand" as const, ...expected.hand },
      { reason: "a discount" as const, ...expected.discount },
    ]
      .filter(({ count }) => count > 0)
      .map(({ reason, count, micros }) => ({ reason, count, difference: formatMicros(micros as Micros) })),
    reasons: reasonsOf(found),
    readThrough,
    closedThrough,
  };
}

async function spanOf(services: Services, { from, to }: { from: string | null; to: string | null }) {
  const { now } = await services.clock.read();
  const yesterday = Math.floor(now / DAY_S) - 1;
  const span = { from: from ?? formatDate(yesterday - 6), to: to ?? formatDate(yesterday) };
  if (tryParseDate(span.from) === null || tryParseDate(span.to) === null || span.to < span.from)
    throw new RefusedError("invalid", `From ${span.from} to ${span.to}: expected two dates, the second not before the first.`);
  if (dayNumber(span.to) - dayNumber(span.from) > 92) throw new RefusedError("invalid", "At most 93 days at once.");
  return span;
}

type Pair = { resourceId: string; day: string; account: string; computed: bigint; metered: bigint; lines: number; has: string };

/** Finds what a bill calls by its provider's name; a bill that names no account is understood where only one has that name. */
function keyReader(all: readonly Resource[]): (billed: BilledDay) => string {
  const known = new Set(all.map(({ id }) => id));
  const byName = new Map<string, string | null>();
  for (const { id, fields } of all) {
    const name = providerIdOf(id, fields.account ?? "");
    byName.set(name, byName.has(name) ? null : id);
  }
  return ({ account, resourceId }) => {
    const key = resourceKey(account, resourceId);
    return known.has(key) ? key : (byName.get(resourceId) ?? key);
  };
}

function pairUp(spend: readonly SpendDay[], billed: readonly BilledDay[], keyOf: (billed: BilledDay) => string): Pair[] {
  const pairs = new Map<string, Pair>();
  for (const { resourceId, day, cost } of spend) {
    // A commitment is no part of a resource's meter: it is billed beside it.
    if (isCommitmentKey(resourceId)) continue;
    const computed = microsOf((totalOf(cost) + cost.covered) as Amount);
    pairs.set(`${resourceId} ${day}`, { resourceId, day, account: "", computed, metered: 0n, lines: 0, has: "computed" });
  }
  for (const line of billed) {
    const { day, account, billed: text, lines } = line;
    const resourceId = keyOf(line);
    const metered = microsOfText(text);
    const known = pairs.get(`${resourceId} ${day}`);
    // A file may name a resource by its account on one line and not on another.
    if (known) {
      const isMore = known.has !== "computed";
      Object.assign(known, {
        metered: isMore ? known.metered + metered : metered,
        lines: isMore ? known.lines + lines : lines,
        account,
        has: known.has === "metered" ? "metered" : "both",
      });
    } else pairs.set(`${resourceId} ${day}`, { resourceId, day, account, computed: 0n, metered, lines, has: "metered" });
  }
  return [...pairs.values()];
}

/** The database's decimal text to the nearest millionth, half to even; below zero for a credit. */
function microsOfText(text: string): bigint {
  const decimal = tryParseDecimal(text.replace("-", ""));
  if (!decimal) throw new Error(`a sum of the database is a decimal: ${text}`);
  const micros = divideHalfEven(decimal.units * 1_000_000n, 10n ** BigInt(decimal.scale));
  return text.startsWith("-") ? -micros : micros;
}

function absolute(value: bigint): bigint {
  return value < 0n ? -value : value;
}

type Known = Readonly<{
  resource: Resource | undefined;
  snapshot: Snapshot;
  closedThrough: string | null;
  readThrough: string | null;
}>;

function reasonOf(pair: Pair, { resource, snapshot, closedThrough, readThrough }: Known): string {
  if (closedThrough === null || pair.day > closedThrough) return "the day is not reckoned yet";
  if (pair.has === "computed") {
    return readThrough === null || pair.day > readThrough ? "the meter is not read yet" : "the meter has no line for it";
  }
  if (!resource) return "Umbrik has never seen this resource";
  if (pair.has === "metered") return "no state of it was told for that day";
  const { granularityS } = capabilitiesFor(resource, snapshot.capabilities)?.billing[
    isSchedulable(resource) ? (resource.kind as "machine") : "machine"
  ] ?? { granularityS: 1 };
  const perSecond = pair.metered / BigInt(DAY_S) + 1n;
  if (absolute(pair.computed - pair.metered) <= perSecond * BigInt(granularityS) * BigInt(Math.max(1, pair.lines)))
    return `within one billing granule of ${granularityS} s a run`;
  return UNKNOWN;
}

function reasonsOf(found: readonly (Difference & { micros: bigint })[]): Reconciliation["reasons"] {
  const sums = new Map<string, { count: number; micros: bigint }>();
  for (const { reason, micros } of found) {
    const sum = sums.get(reason) ?? { count: 0, micros: 0n };
    sums.set(reason, { count: sum.count + 1, micros: sum.micros + micros });
  }
  return [...sums]
    .sort(([, a], [, b]) => (absolute(a.micros) < absolute(b.micros) ? 1 : -1))
    .map(([reason, { count, micros }]) => ({ reason, count, difference: formatMicros(micros as Micros) }));
}
