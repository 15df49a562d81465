import { isSchedulable, listedAt } from "@/core/plan";
import {
  type Amount,
  addAmounts,
  formatCents,
  type Micros,
  type MoneyView,
  microsOf,
  NO_AMOUNT,
  roundedShares,
} from "@/core/pricing";
import { clauseText, matcher, type Selectable, type SelectorText, selectorOf, selectorText } from "@/core/selector";
import { totalOf } from "@/core/spend";
import { STRAY_KINDS, type StrayKind, straySums } from "@/core/strays";
import { DAY_S, dayNumber, formatDate, type Instant } from "@/core/time";
import {
  changesBetween,
  closedDay,
  fullInventory,
  MISSING_AFTER_S,
  type MissingStart,
  missingStarts,
  priceBooks,
  realisedDays,
  type SpendDay,
  spendDayList,
} from "@/store";
import type { Services } from "../admin";
import {
  type AtSpot,
  isCommitmentKey,
  type MixOfDay,
  type Money,
  mixOf,
  type PricedFee,
  type PricedLine,
  type PricedRest,
  priceInventory,
  spotOf,
  straysIn,
} from "../cost";
import { currencyOf, snapshotAt } from "../inventory";

/** A row of a table of the report: how many, and money of two kinds; `spent` is of the day the report says, null where it says none. */
export type ReportRow = Readonly<{
  name: string;
  count: number;
  perHour: string;
  spent: string | null /** What finds its machines on Burn; null for what is none of them. */;
  filter: string | null;
}>;

export type ReportMachine = Readonly<{
  id: string;
  name: string;
  owner: string;
  region: string;
  since: Instant;
  perHour: string;
  isNotDue: boolean;
}>;

/** Everything a daily report says, as of an instant and for a scope; money as text in the currency's minor unit. */
export type ReportContent = Readonly<{
  at: Instant;
  currency: string;
  /** A selector; empty: everything. */
  scope: string;
  running: Readonly<{
    count: number;
    notDue: number;
    perHour: string;
    notDuePerHour: string;
    /** Month to date, and by its end by the plans, and if all goes on as now. */
    month: string | null;
    byMonthEnd: string | null;
    ifAsNow: string | null;
  }>;
  /** Of what runs, what is at spot price; null where nothing is. */
  spot: AtSpot | null;
  /** What mixes saved on the day that is reckoned, in the currency, beside its forecast; null where none was forecast, or for a part of everything. */
  mix: MixOfDay | null;
  view: MoneyView;
  byRegion: readonly ReportRow[];
  byOwner: readonly ReportRow[];
  /** What a plan says should be off first, then the dearest. */
  machines: readonly ReportMachine[];
  moreMachines: number;
  /** Of the last UTC day that is reckoned, yesterday as a rule; null before the first. `before` is of the day before it. */
  spent: Readonly<{ day: string; isYesterday: boolean; cost: string; before: string | null }> | null;
  strays: Readonly<{
    count: number;
    /** What serves nobody, and what runs that nobody has thought of: each thing in one of them. */
    nobody: Readonly<{ count: number; perMonth: string }>;
    unthought: Readonly<{ count: number; perMonth: string }>;
    kinds: readonly Readonly<{ kind: StrayKind; count: number }>[];
  }>;
  changes: Readonly<{
    started: number;
    stopped: number;
    evicted: readonly string[];
    appeared: readonly string[];
    gone: readonly string[];
  }>;
  /** What should be on by now and is not, with what its provider answered last; of now alone. */
  missing: readonly MissingStart[];
  /** Why there is nothing to tell: nothing runs, strays or is missing, or there is nothing that the scope matches. Null where there is. */
  empty: "nothing runs" | "matches nothing" | null;
}>;

const MACHINES = 25;
const FEES = "commitments";
const GONE = "gone";
const NO_OWNER = "no owner";

/** What a report is about: a selector, or everything. */
export type Scope = SelectorText | "";

/** A scope that was found to be readable. */
export function scopeOf(scope: string): Scope {
  const text = scope.trim();
  return text === "" ? "" : selectorText(text);
}

/** Puts a daily report together from what is stored, as of now or of another instant. */
export async function composeReport(services: Services, scope: Scope, at: Instant | null = null): Promise<ReportContent> {
  const { pool } = services;
  const [snapshot, prices, closed] = await Promise.all([snapshotAt(services, at), priceBooks(pool), closedDay(pool)]);
  const isIn: (resource: Selectable) => boolean = scope === "" ? () => true : matcher(selectorOf(scope));
  const present = new Map(snapshot.resources.map((resource) => [resource.id, resource]));
  const missing = (snapshot.tense === "now" ? await missingStarts(pool, snapshot.now - MISSING_AFTER_S) : []).filter(
    ({ resourceId }) => {
      const resource = present.get(resourceId);
      return resource !== undefined && isIn(resource);
    },
  );
  const priced = await priceInventory(pool, snapshot, prices);
  const lines = priced.lines.filter(({ resource }) => isIn(resource));
  const { strays, meant } = await straysIn(pool, snapshot);
  const said = new Set(meant.map(({ stray }) => stray));
  const byId = new Map((await fullInventory(pool)).map((resource) => [resource.id, listedAt(resource, snapshot.at)]));
  const ownStrays = strays.filter((stray) => {
    const resource = byId.get(stray.resourceId ?? "");
    return !said.has(stray.key) && (resource ? isIn(resource) : scope === "");
  });
  const sums = straySums(ownStrays);
  const yesterday = formatDate(Math.floor(snapshot.at / DAY_S) - 1);
  const isReckoned = closed !== null && closed >= yesterday;
  const day = isReckoned ? yesterday : closed;
  const before = day === null ? null : formatDate(dayNumber(day) - 1);
  const spend = day === null || before === null ? [] : await spendDayList(pool, { from: before, to: day });
  const ownSpend = spend.filter(({ resourceId }) => {
    const resource = byId.get(resourceId);
    return resource ? isIn(resource) : scope === "";
  });
  const spent = ownSpend.filter((one) => one.day === day);
  const notDue = lines.filter(({ isNotDue }) => isNotDue);
  // Fees belong to the whole and to nothing that is picked out of it.
  const fees = scope === "" ? priced.fees : [];
  const rest = priced.rest.filter(({ resource }) => isIn(resource));
  const everything = [...lines, ...rest, ...fees];
  const monthSum = (of: (one: Money) => Amount | null) =>
    // Nobody knows it ahead of now.
    snapshot.tense === "ahead" ? null : money(sumOf(everything.map((one) => of(one) ?? NO_AMOUNT)));
  const owner = (id: string) => byId.get(id)?.tags.owner ?? NO_OWNER;
  const region = (id: string) => byId.get(id)?.fields.region ?? GONE;
  const changes = await changesBetween(pool, { from: snapshot.at - DAY_S, to: snapshot.at });
  const own = changes.filter(({ resourceId }) => {
    const resource = byId.get(resourceId);
    return resource ? isIn(resource) : scope === "";
  });
  const names = (type: string) => [
    ...new Set(own.filter((change) => change.type === type).map(({ resourceId }) => byId.get(resourceId)?.name ?? resourceId)),
  ];
  const shown = [...lines].sort((a, b) => Number(b.isNotDue) - Number(a.isNotDue) || (a.perHour < b.perHour ? 1 : -1));
  return {
    at: snapshot.at,
    currency: currencyOf(snapshot),
    scope,
    running: {
      count: lines.length,
      notDue: notDue.length,
      perHour: money(sumOf(everything.map(({ perHour }) => perHour))),
      notDuePerHour: money(sumOf(notDue.map(({ perHour }) => perHour))),
      month: monthSum(({ month }) => month),
      byMonthEnd: monthSum(({ byMonthEnd }) => byMonthEnd),
      ifAsNow: monthSum(({ ifAsNow }) => ifAsNow),
    },
    spot: spotOf(lines),
    mix: scope === "" && day !== null ? mixOf(await realisedDays(pool, { from: day, to: day })) : null,
    view: prices.view,
    byRegion: rowsBy({ lines, rest, fees, spent: day === null ? null : spent }, region, (name) =>
      name === GONE ? null : clauseText("region", name),
    ),
    byOwner: rowsBy({ lines, rest, fees, spent: day === null ? null : spent }, owner, (name) =>
      clauseText("owner", name === NO_OWNER ? null : name),
    ),
    machines: shown.slice(0, MACHINES).map(({ resource, perHour, isNotDue }) => ({
      id: resource.id,
      name: resource.name,
      owner: resource.tags.owner ?? "",
      region: resource.fields.region ?? "",
      since: resource.runSince ?? resource.since,
      perHour: money(perHour),
      isNotDue,
    })),
    moreMachines: Math.max(0, shown.length - MACHINES),
    spent:
      day === null
        ? null
        : {
            day,
            isYesterday: isReckoned,
            cost: money(spendSum(spent)),
            before: spend.some((one) => one.day === before)
              ? money(spendSum(ownSpend.filter((one) => one.day === before)))
              : null,
          },
    strays: {
      count: ownStrays.length,
      nobody: { count: sums.nobody.count, perMonth: money(sums.nobody.perMonth) },
      unthought: { count: sums.unthought.count, perMonth: money(sums.unthought.perMonth) },
      kinds: STRAY_KINDS.map((kind) => ({ kind, count: ownStrays.filter((stray) => stray.kind === kind).length })).filter(
        ({ count }) => count > 0,
      ),
    },
    changes: {
      started: own.filter(({ type, level }) => type === "running" && level > 0).length,
      stopped: own.filter(({ type }) => type === "stopped" || type === "hibernated").length,
      evicted: names("evicted"),
      appeared: names("found"),
      gone: names("gone"),
    },
    missing,
    empty:
      scope !== "" && !snapshot.resources.some(isIn)
        ? "matches nothing"
        : lines.some(({ resource }) => isSchedulable(resource)) || ownStrays.length > 0 || missing.length > 0
          ? null
          : "nothing runs",
  };
}

type Spending = Readonly<{
  lines: readonly PricedLine[];
  rest: readonly PricedRest[];
  fees: readonly PricedFee[];
  spent: readonly SpendDay[] | null;
}>;

/** Rows by a key of what runs and of what was spent; each column adds up to its total. */
function rowsBy(
  { lines, rest, fees, spent }: Spending,
  keyOf: (id: string) => string,
  filterOf: (name: string) => string | null,
): ReportRow[] {
  const rows = new Map<string, { count: number; perHour: Amount; spent: Amount }>();
  const row = (key: string) => rows.get(key) ?? { count: 0, perHour: NO_AMOUNT, spent: NO_AMOUNT };
  for (const { resource, perHour } of lines) {
    const key = keyOf(resource.id);
    const old = row(key);
    rows.set(key, { ...old, count: old.count + 1, perHour: addAmounts(old.perHour, perHour) });
  }
  for (const { resource, perHour } of rest) {
    const key = keyOf(resource.id);
    const old = row(key);
    rows.set(key, { ...old, perHour: addAmounts(old.perHour, perHour) });
  }
  for (const { perHour } of fees) {
    const old = row(FEES);
    rows.set(FEES, { ...old, perHour: addAmounts(old.perHour, perHour) });
  }
  for (const { resourceId, cost } of spent ?? []) {
    const key = isCommitmentKey(resourceId) ? FEES : keyOf(resourceId);
    const old = row(key);
    rows.set(key, { ...old, spent: addAmounts(old.spent, totalOf(cost)) });
  }
  const sorted = [...rows].sort(([, a], [, b]) => (a.spent < b.spent ? 1 : a.spent > b.spent ? -1 : 0));
  const perHour = roundedShares(sorted.map(([, { perHour: amount }]) => amount));
  const ofDay = roundedShares(sorted.map(([, { spent: amount }]) => amount));
  return sorted.map(([name, { count }], i) => ({
    name,
    count,
    filter: name === FEES ? null : filterOf(name),
    perHour: formatCents(perHour[i] as Micros),
    spent: spent === null ? null : formatCents(ofDay[i] as Micros),
  }));
}

function sumOf(amounts: readonly Amount[]): Amount {
  return amounts.reduce((sum, amount) => addAmounts(sum, amount), NO_AMOUNT);
}

function spendSum(spend: readonly SpendDay[]): Amount {
  return sumOf(spend.map(({ cost }) => totalOf(cost)));
}

function money(amount: Amount): string {
  return formatCents(microsOf(amount));
}
