import { type Amount, addAmounts, amountOf, cardReader, formatCents, microsOf, NO_AMOUNT, type RateCard } from "@/core/pricing";
import { matcher, type SelectorWarning, selectorWarnings, tryParseSelector } from "@/core/selector";
import { type Grouping, type Only, runningSpend, type Sort } from "@/core/spend";
import { HOUR_S, type Instant } from "@/core/time";
import { accountList, currentPrices, holdsFrom, type RunningResource, runningList, type StoredHold } from "@/store";
import type { Services } from "./context";
import { authorise, type Person } from "./person";
import { capabilitiesByProvider } from "./world";

export type BurnQuery = Readonly<{
  /** A selector, or a word to look for in names, owners, regions and fleets. */
  filter: string;
  group: Grouping;
  sort: Sort;
  isDescending: boolean;
  /** Only those that should not run, or only those shut down from inside. */
  only: Only;
  /** Groups that are open, by key; the others show their heading alone. */
  opened: readonly string[];
  offset: number;
  limit: number;
}>;

export type BurnMachine = Readonly<{
  kind: "machine";
  id: string;
  name: string;
  what: string;
  region: string;
  zone: string;
  owner: string;
  account: string;
  fleet: string;
  size: string;
  state: RunningResource["state"];
  level: number;
  perHour: string;
  soFar: string;
  byMonthEnd: string;
  since: Instant;
  due: "on" | "off" | "leave";
  why: string;
  /** A hold in effect, on it or on its fleet; null where there is none. */
  hold: Readonly<{ id: number; level: number; to: Instant; reason: string }> | null;
  unpriced: readonly string[];
}>;

export type BurnGroup = Readonly<{
  kind: "group";
  key: string;
  count: number;
  notDue: number;
  perHour: string;
  soFar: string;
  byMonthEnd: string;
  isOpen: boolean;
}>;
export type BurnLine = BurnMachine | BurnGroup;

export type BurnTotals = Readonly<{
  count: number;
  notDue: number;
  halted: number;
  perHour: string;
  notDuePerHour: string;
  soFar: string;
  byMonthEnd: string;
}>;

export type BurnPage = Readonly<{
  now: Instant;
  monthEnd: Instant;
  currency: string;
  lines: readonly BurnLine[];
  lineCount: number;
  /** Of what the filter lets through. */
  shown: BurnTotals;
  /** Of everything that runs. */
  all: BurnTotals;
  filterError: Readonly<{ at: number; message: string }> | null;
  warnings: readonly SelectorWarning[];
  accounts: readonly Readonly<{ name: string; readAt: Instant | null; error: string | null }>[];
}>;

type Priced = Readonly<{
  resource: RunningResource;
  hold: StoredHold | null;
  perHour: Amount;
  soFar: Amount;
  toCome: Amount;
  isNotDue: boolean;
  unpriced: readonly string[];
}>;

/** One page of what runs now, with the totals of all of it. Amounts are summed exactly and rounded once each. */
export async function burnPage(services: Services, person: Person, query: BurnQuery): Promise<BurnPage> {
  authorise(person, "look");
  const [{ now }, accounts, running, prices] = await Promise.all([
    services.clock.read(),
    accountList(services.pool),
    runningList(services.pool),
    currentPrices(services.pool),
  ]);
  const holds = (await holdsFrom(services.pool, now)).filter(({ from }) => from <= now);
  const monthEnd = endOfMonth(now);
  const capabilities = capabilitiesByProvider(accounts);
  const cardOf = cardReader(prices, capabilities);
  const priced = running.flatMap((resource) => {
    const card = cardOf(resource);
    return card ? [price(resource, card, { now, monthEnd, hold: holdOn(resource, holds) })] : [];
  });
  const { passes, error, warnings } = filterOf(query.filter, running);
  const shown = priced.filter(
    (line) =>
      passes(line.resource) &&
      (query.only === "all" || (query.only === "halted" ? line.resource.state === "halted" : line.isNotDue)),
  );
  const lines = linesOf(shown, query);
  return {
    now,
    monthEnd,
    currency: [...capabilities.values()][0]?.currency ?? "EUR",
    lines: lines.slice(query.offset, query.offset + query.limit).map((line) => (line instanceof Function ? line() : line)),
    lineCount: lines.length,
    shown: totalsOf(shown),
    all: totalsOf(priced),
    filterError: error,
    warnings,
    accounts: accounts.map(({ name, readAt, readError }) => ({ name, readAt, error: readError })),
  };
}

/** The first instant of the next month, UTC. */
export function endOfMonth(now: Instant): Instant {
  const date = new Date(now * 1000);
  return Date.UTC(date.getUTCFullYear(), date.getUTCMonth() + 1, 1) / 1000;
}

/** The one that decides: its own before its fleet's, the last placed first. */
function holdOn({ id, fleet }: RunningResource, holds: readonly StoredHold[]): StoredHold | null {
  if (holds.length === 0 || fleet === null) return null;
  return holds.find(({ resourceId }) => resourceId === id) ?? holds.find((hold) => hold.fleet === fleet) ?? null;
}

type Pricing = Readonly<{ now: Instant; monthEnd: Instant; hold: StoredHold | null }>;

function price(resource: RunningResource, card: RateCard, { now, monthEnd, hold }: Pricing): Priced {
  const { perSecond, soFar, toCome } = runningSpend(resource, card, { now, until: monthEnd });
  return {
    resource,
    hold,
    perHour: amountOf(HOUR_S, perSecond),
    soFar,
    toCome,
    isNotDue: (hold ? hold.level === 0 : resource.due === 0) && resource.state !== "stopping",
    unpriced: card.unpriced,
  };
}

type Filter = Readonly<{
  passes: (resource: RunningResource) => boolean;
  error: BurnPage["filterError"];
  warnings: readonly SelectorWarning[];
}>;

function filterOf(text: string, running: readonly RunningResource[]): Filter {
  const trimmed = text.trim();
  if (trimmed === "") return { passes: () => true, error: null, warnings: [] };
  const result = tryParseSelector(trimmed);
  if (result.ok) return { passes: matcher(result.selector), error: null, warnings: selectorWarnings(result.selector, running) };
  if (/^[\p{L}\p{N}_.-]+$/u.test(trimmed)) {
    const word = trimmed.toLowerCase();
    const passes = ({ name, fields, tags, fleet }: RunningResource) =>
      [name, fields.region, fields.account, fields.size, tags.owner, tags.team, fleet].some((value) =>
        value?.toLowerCase().includes(word),
      );
    return { passes, error: null, warnings: [] };
  }
  return { passes: () => true, error: { at: result.error.at, message: result.error.message }, warnings: [] };
}

function totalsOf(lines: readonly Priced[]): BurnTotals {
  const notDue = lines.filter(({ isNotDue }) => isNotDue);
  return {
    count: lines.length,
    notDue: notDue.length,
    halted: lines.filter(({ resource }) => resource.state === "halted").length,
    perHour: money(sum(lines, (line) => line.perHour)),
    notDuePerHour: money(sum(notDue, (line) => line.perHour)),
    soFar: money(sum(lines, (line) => line.soFar)),
    byMonthEnd: money(sum(lines, (line) => line.toCome)),
  };
}

function sum(lines: readonly Priced[], of: (line: Priced) => Amount): Amount {
  return lines.reduce((total, line) => addAmounts(total, of(line)), NO_AMOUNT);
}

function money(amount: Amount): string {
  return formatCents(microsOf(amount));
}

/** Group headings and machines in order. A machine's line is made only when it is on the page. */
function linesOf(shown: readonly Priced[], query: BurnQuery): readonly (BurnGroup | (() => BurnMachine))[] {
  const sorted = [...shown].sort(comparer(query));
  if (query.group === "none") return sorted.map((line) => () => machineLine(line));
  const groups = new Map<string, Priced[]>();
  for (const line of sorted) {
    const key = groupKey(line.resource, query.group);
    const group = groups.get(key);
    if (group) group.push(line);
    else groups.set(key, [line]);
  }
  return [...groups]
    .map(([key, lines]) => ({ key, lines, perHour: sum(lines, (line) => line.perHour) }))
    .sort((a, b) => (a.perHour < b.perHour ? 1 : a.perHour > b.perHour ? -1 : a.key.localeCompare(b.key)))
    .flatMap(({ key, lines }) => {
      const isOpen = query.opened.includes(key);
      const { count, notDue, perHour, soFar, byMonthEnd } = totalsOf(lines);
      const heading: BurnGroup = { kind: "group", key, count, notDue, perHour, soFar, byMonthEnd, isOpen };
      return [heading, ...(!isOpen ? [] : lines.map((line) => () => machineLine(line)))];
    });
}

function groupKey(resource: RunningResource, group: Grouping): string {
  switch (group) {
    case "fleet":
      return resource.fleet ?? "in no fleet";
    case "owner":
      return resource.tags.owner ?? "no owner";
    case "region":
      return resource.fields.region ?? "";
    case "account":
      return resource.fields.account ?? "";
    case "none":
      return "";
  }
}

function comparer({ sort, isDescending }: BurnQuery): (a: Priced, b: Priced) => number {
  const sign = isDescending ? -1 : 1;
  const byName = (a: Priced, b: Priced) => (a.resource.name < b.resource.name ? -1 : a.resource.name > b.resource.name ? 1 : 0);
  const compare = (a: Priced, b: Priced): number => {
    switch (sort) {
      case "perHour":
        return a.perHour < b.perHour ? -1 : a.perHour > b.perHour ? 1 : 0;
      case "soFar":
        return a.soFar < b.soFar ? -1 : a.soFar > b.soFar ? 1 : 0;
      case "since":
        return (a.resource.runSince ?? a.resource.since) - (b.resource.runSince ?? b.resource.since);
      case "name":
        return byName(a, b);
    }
  };
  return (a, b) => sign * compare(a, b) || byName(a, b);
}

function machineLine({ resource, hold, perHour, soFar, toCome, unpriced }: Priced): BurnMachine {
  const { fields, tags, due } = resource;
  return {
    kind: "machine",
    id: resource.id,
    name: resource.name,
    what: resource.kind,
    region: fields.region ?? "",
    zone: fields.zone ?? "",
    owner: tags.owner ?? "",
    account: fields.account ?? "",
    fleet: resource.fleet ?? "",
    size: fields.size ?? "",
    state: resource.state,
    level: resource.level,
    perHour: money(perHour),
    soFar: money(soFar),
    byMonthEnd: money(toCome),
    since: resource.runSince ?? resource.since,
    due: hold ? (hold.level === 0 ? "off" : "on") : due === null ? "leave" : due === 0 ? "off" : "on",
    why: hold ? `held by ${hold.person}: ${hold.reason}` : resource.why,
    hold: hold && { id: hold.id, level: hold.level, to: hold.to, reason: hold.reason },
    unpriced,
  };
}
