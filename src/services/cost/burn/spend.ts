import type { Resource } from "@/core/plan";
import { type Amount, addAmounts, formatMicros, type MoneyView, microsOf, NO_AMOUNT } from "@/core/pricing";
import { COST_ITEMS, totalOf } from "@/core/spend";
import { formatInstant, tryParseDate } from "@/core/time";
import { closedDay, fullInventory, priceBooks, type SpendDay, spendDayList } from "@/store";
import { type Actor, authorise, ESTATE, RefusedError, type Services, visibleTo } from "../../admin";
import { currencyOf, loadSnapshot, snapshotFor } from "../../inventory";
import { isCommitmentKey } from "../compute-costs";
import { priceInventory } from "./priced";

/** A sum under a name, and how many it counts; decimals with six places, each rounded once. */
export type NamedSum = Readonly<{ name: string; count: number; amount: string }>;

export type SpendNow = Readonly<{
  at: string;
  currency: string;
  running: number;
  perHour: string;
  soFar: string;
  thisMonth: string;
  byMonthEnd: string;
  monthEndIfAsNow: string;
  commitments: MoneyView;
  byRegion: readonly NamedSum[];
  byOwner: readonly NamedSum[];
}>;

/** What runs now and what everything costs, for scripts: what is off and commitments' fees included. */
export async function spendNow(services: Services, actor: Actor, view: MoneyView = "after"): Promise<SpendNow> {
  authorise(actor, "look", ESTATE);
  const [snapshot, prices] = await Promise.all([snapshotFor(services, actor, null), priceBooks(services.pool, view)]);
  const { lines, rest, ...priced } = await priceInventory(services.pool, snapshot, prices);
  const fees = visibleTo(actor).isAll ? priced.fees : [];
  const all = [...lines, ...rest, ...fees];
  const sum = (of: (line: (typeof all)[number]) => Amount | null) =>
    text(all.reduce((total, line) => addAmounts(total, of(line) ?? NO_AMOUNT), NO_AMOUNT));
  const rates = (of: (resource: Resource) => string) => [
    ...lines.map(({ resource, perHour }) => ({ name: of(resource), amount: perHour, running: 1 })),
    ...rest.map(({ resource, perHour }) => ({ name: of(resource), amount: perHour, running: 0 })),
    ...fees.map(({ perHour }) => ({ name: "commitments", amount: perHour, running: 0 })),
  ];
  return {
    at: formatInstant(snapshot.at),
    currency: currencyOf(snapshot),
    running: lines.length,
    perHour: sum((line) => line.perHour),
    soFar: sum((line) => line.soFar),
    thisMonth: sum((line) => line.month),
    byMonthEnd: sum((line) => line.byMonthEnd),
    monthEndIfAsNow: sum((line) => line.ifAsNow),
    commitments: view,
    byRegion: sumsBy(rates(({ fields }) => fields.region ?? "")),
    byOwner: sumsBy(rates(({ tags }) => tags.owner ?? "no owner")),
  };
}

export type SpendOfDay = Readonly<{
  date: string;
  currency: string;
  total: string;
  /** Before commitments; `covered` is what they took off compute. */
  byItem: Readonly<Record<string, string>>;
  byRegion: readonly NamedSum[];
  byOwner: readonly NamedSum[];
}>;

/** What a UTC day that is over cost, everything billed. Throws a RefusedError where the day is none or not reckoned. */
export async function spendOfDay(services: Services, actor: Actor, date: string): Promise<SpendOfDay> {
  authorise(actor, "look", ESTATE);
  if (tryParseDate(date) === null) throw new RefusedError("invalid", `"${date}" is no date: expected one such as 2027-03-10.`);
  const { pool } = services;
  const [snapshot, ever, closed, spend] = await Promise.all([
    loadSnapshot(services),
    fullInventory(pool),
    closedDay(pool),
    spendDayList(pool, { from: date, to: date }),
  ]);
  if (closed === null || date > closed || spend.length === 0)
    throw new RefusedError("not_found", `${date} is not reckoned: days are, through ${closed ?? "none yet"}.`);
  const byId = new Map(ever.map((resource) => [resource.id, resource]));
  const named = (of: (id: string) => string) =>
    sumsBy(
      spend.map(({ resourceId, cost }) => ({
        name: isCommitmentKey(resourceId) ? "commitments" : of(resourceId),
        amount: totalOf(cost),
        running: 1,
      })),
    );
  const item = (of: (one: SpendDay) => Amount) => text(spend.reduce((sum, one) => addAmounts(sum, of(one)), NO_AMOUNT));
  return {
    date,
    currency: currencyOf(snapshot),
    total: item(({ cost }) => totalOf(cost)),
    byItem: {
      ...Object.fromEntries(
        COST_ITEMS.map((name) => [name, item(({ cost, resourceId }) => (isCommitmentKey(resourceId) ? NO_AMOUNT : cost[name]))]),
      ),
      fees: item(({ cost, resourceId }) => (isCommitmentKey(resourceId) ? totalOf(cost) : NO_AMOUNT)),
      covered: item(({ cost }) => cost.covered),
    },
    byRegion: named((id) => byId.get(id)?.fields.region ?? "gone"),
    byOwner: named((id) => byId.get(id)?.tags.owner ?? "no owner"),
  };
}

function sumsBy(parts: readonly Readonly<{ name: string; amount: Amount; running: number }>[]): NamedSum[] {
  const sums = new Map<string, { count: number; amount: Amount }>();
  for (const { name, amount, running } of parts) {
    const known = sums.get(name) ?? { count: 0, amount: NO_AMOUNT };
    sums.set(name, { count: known.count + running, amount: addAmounts(known.amount, amount) });
  }
  return [...sums]
    .sort(([, a], [, b]) => (a.amount < b.amount ? 1 : -1))
    .map(([name, { count, amount }]) => ({ name, count, amount: text(amount) }));
}

function text(amount: Amount): string {
  return formatMicros(microsOf(amount));
}
