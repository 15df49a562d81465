import { type Amount, formatCents, type Micros, microsOf, NO_AMOUNT, roundedCents, shareReader } from "@/core/pricing";
import type { Grouping } from "@/core/spend";
import { accountList, priceBooks } from "@/store";
import { worldAt } from "../as-of";
import type { Services } from "../context";
import { authorise, type Person } from "../person";
import { currencyOf } from "../world";
import { filterOf } from "./filter";
import { type Money, type Priced, type PricedFee, type PricedLine, priceStanding } from "./priced";
import type { BurnFee, BurnGroup, BurnLine, BurnMachine, BurnMoney, BurnPage, BurnQuery, BurnTotals } from "./query";

/** One line as it is sorted and put together; its money becomes text when it is known which part of the total it shows. */
type Part = Readonly<{ kind: "line"; line: PricedLine } | { kind: "fee"; line: PricedFee }>;

const FEES = "commitments";

/** One page of what runs, as of any instant, with the totals of all of it. Shown parts add up to shown totals. */
export async function burnPage(services: Services, person: Person, query: BurnQuery): Promise<BurnPage> {
  const { page, lines } = await burnLines(services, person, query);
  return { ...page, lines: lines.slice(query.offset, query.offset + query.limit).map((line) => line()) };
}

/** Everything the page is cut from: lines are made when they are asked for. */
export async function burnLines(
  services: Services,
  person: Person,
  query: BurnQuery,
): Promise<Readonly<{ page: Omit<BurnPage, "lines">; lines: readonly (() => BurnLine)[]; parts: readonly Part[] }>> {
  authorise(person, "look");
  const [world, prices, accounts] = await Promise.all([
    worldAt(services, query.at),
    priceBooks(services.pool),
    accountList(services.pool),
  ]);
  const priced = await priceStanding(services.pool, world, prices);
  const running = priced.lines.map(({ resource }) => resource);
  const { passes, error, warnings } = filterOf(query.filters, running);
  const shown = priced.lines.filter(
    (line) =>
      passes(line.resource) &&
      (query.only === "all" || (query.only === "halted" ? line.resource.state === "halted" : line.isNotDue)),
  );
  const isWhole = query.only === "all" && query.filters.length === 0;
  const parts = sortedParts(shown, { priced, query, isWhole });
  const lines = linesOf(parts, query);
  return {
    page: {
      now: world.now,
      at: world.at,
      tense: world.tense,
      monthEnd: priced.monthEnd,
      currency: currencyOf(world),
      lineCount: lines.length,
      shown: totalsOf(parts),
      all: isWhole ? totalsOf(parts) : totalsOf([...priced.lines.map(asLine), ...priced.fees.map(asFee)]),
      filterError: error,
      warnings,
      tagKeys: tagKeysOf(world.standing),
      accounts: accounts.map(({ name, readAt, readError }) => ({ name, readAt, error: readError })),
    },
    lines,
    parts,
  };
}

const asLine = (line: PricedLine): Part => ({ kind: "line", line });
const asFee = (line: PricedFee): Part => ({ kind: "fee", line });

const keysOf = new WeakMap<object, readonly string[]>();

/** Read once for a list that is kept between looks. */
function tagKeysOf(resources: readonly Readonly<{ tags: Readonly<Record<string, string>> }>[]): readonly string[] {
  const known = keysOf.get(resources);
  if (known) return known;
  const keys = new Set<string>();
  for (const { tags } of resources) for (const key in tags) keys.add(key);
  const inOrder = [...keys].sort();
  keysOf.set(resources, inOrder);
  return inOrder;
}

type Sorting = Readonly<{ priced: Priced; query: BurnQuery; isWhole: boolean }>;

/** Fees belong to the whole and to nothing that is picked out of it. They come last. */
function sortedParts(shown: readonly PricedLine[], { priced, query, isWhole }: Sorting): Part[] {
  const lines = sorted(shown, query).map(asLine);
  return isWhole ? [...lines, ...priced.fees.map(asFee)] : lines;
}

/** The list comes by name, and sorting is stable: what is equal stays so. Doubles tell amounts apart well enough to sort them. */
function sorted(lines: readonly PricedLine[], { sort, isDescending }: BurnQuery): PricedLine[] {
  const sign = isDescending ? -1 : 1;
  if (sort === "name") return isDescending ? [...lines].reverse() : [...lines];
  const keys = new Map(lines.map((line) => [line, sortKey(line, sort)]));
  return [...lines].sort((a, b) => sign * ((keys.get(a) as number) - (keys.get(b) as number)));
}

function sortKey(line: PricedLine, sort: Exclude<BurnQuery["sort"], "name">): number {
  switch (sort) {
    case "perHour":
      return Number(line.perHour);
    case "soFar":
      return Number(line.soFar ?? 0n);
    case "month":
      return Number(line.month ?? 0n);
    case "since":
      return line.resource.runSince ?? line.resource.since;
  }
}

/** Group headings and lines in order. A line is made only when it is on the page. */
function linesOf(parts: readonly Part[], query: BurnQuery): (() => BurnLine)[] {
  if (query.group === "none") {
    const money = sharedMoney(parts.map(({ line }) => line));
    return parts.map((part, i) => () => lineOf(part, money(i)));
  }
  const groups = new Map<string, Part[]>();
  for (const part of parts) {
    const key = part.kind === "fee" ? FEES : groupKey(part.line, query.group);
    const group = groups.get(key);
    if (group) group.push(part);
    else groups.set(key, [part]);
  }
  const inOrder = [...groups]
    .map(([key, own]) => ({ key, own, sum: sumOf(own.map(({ line }) => line)) }))
    .sort((a, b) => (a.sum.perHour < b.sum.perHour ? 1 : a.sum.perHour > b.sum.perHour ? -1 : a.key.localeCompare(b.key)));
  const money = sharedMoney(inOrder.map(({ sum }) => sum));
  return inOrder.flatMap(({ key, own }, i) => {
    const isOpen = query.opened.includes(key);
    const heading: BurnGroup = {
      kind: "group",
      key,
      count: own.filter(({ kind }) => kind === "line").length,
      notDue: own.filter((part) => part.kind === "line" && part.line.isNotDue).length,
      ...money(i),
      isOpen,
      filter: filterFor(query.group, key, own),
    };
    if (!isOpen) return [() => heading];
    // The lines of a group add up to what its heading shows.
    const inner = sharedMoney(
      own.map(({ line }) => line),
      money.cents(i),
    );
    return [() => heading, ...own.map((part, j) => () => lineOf(part, inner(j)))];
  });
}

function groupKey({ resource }: PricedLine, group: Grouping): string {
  const { fields, tags, fleet } = resource;
  switch (group) {
    case "fleet":
      return fleet ?? "in no fleet";
    case "owner":
      return tags.owner ?? "no owner";
    case "region":
    case "account":
    case "provider":
    case "size":
      return fields[group] ?? "";
    case "none":
      return "";
    default: {
      const key = group.slice("tag:".length);
      return tags[key] ?? `no tag ${key}`;
    }
  }
}

/** The selector that picks a group's lines out; null where none can. */
function filterFor(group: Grouping, key: string, own: readonly Part[]): string | null {
  const [first] = own;
  if (!first || first.kind === "fee" || group === "fleet" || group === "none") return null;
  const name = group === "owner" ? "owner" : group;
  const value = /^[\p{L}\p{N}_.\-/]+$/u.test(key) ? key : `"${key.replaceAll('"', "")}"`;
  const tag = group === "owner" ? "owner" : group.startsWith("tag:") ? group.slice(4) : null;
  if (tag !== null && first.line.resource.tags[tag] === undefined) return `not has ${tag}`;
  return `${tag !== null && group !== "owner" ? `tag:${tag}` : name} = ${value}`;
}

const COLUMNS = ["perHour", "soFar", "month", "byMonthEnd"] as const;
type Cents = Readonly<Record<(typeof COLUMNS)[number], bigint | null>>;

/** Text of each line's money so that each column adds up to its total, the lines' own or one that is shown already. */
function sharedMoney(lines: readonly Money[], total?: Cents): ((i: number) => BurnMoney) & { cents: (i: number) => Cents } {
  const shares = Object.fromEntries(
    COLUMNS.map((column) => {
      const amounts = lines.map((line) => line[column] ?? NO_AMOUNT);
      return [column, shareReader(amounts, total?.[column] ?? roundedCents(amounts))];
    }),
  ) as Record<(typeof COLUMNS)[number], (i: number) => Micros>;
  const known = (column: (typeof COLUMNS)[number], i: number) =>
    (lines[i] as Money)[column] === null ? null : shares[column](i);
  const text = (micros: Micros | null) => (micros === null ? null : formatCents(micros));
  const money = (i: number): BurnMoney => ({
    perHour: text(shares.perHour(i)) ?? "",
    soFar: text(known("soFar", i)),
    month: text(known("month", i)),
    byMonthEnd: text(known("byMonthEnd", i)),
  });
  const cents = (i: number): Cents =>
    Object.fromEntries(COLUMNS.map((column) => [column, (known(column, i) ?? 0n) / 10_000n])) as Cents;
  return Object.assign(money, { cents });
}

function sumOf(lines: readonly Money[]): Money {
  let perHour = 0n;
  const sums = { soFar: null as bigint | null, month: null as bigint | null, byMonthEnd: null as bigint | null };
  for (const line of lines) {
    perHour += line.perHour;
    if (line.soFar !== null) sums.soFar = (sums.soFar ?? 0n) + line.soFar;
    if (line.month !== null) sums.month = (sums.month ?? 0n) + line.month;
    if (line.byMonthEnd !== null) sums.byMonthEnd = (sums.byMonthEnd ?? 0n) + line.byMonthEnd;
  }
  return { perHour, ...sums } as Money;
}

function totalsOf(parts: readonly Part[]): BurnTotals {
  let count = 0;
  let halted = 0;
  const notDue: PricedLine[] = [];
  for (const part of parts) {
    if (part.kind === "fee") continue;
    count++;
    if (part.line.isNotDue) notDue.push(part.line);
    if (part.line.resource.state === "halted") halted++;
  }
  const text = (amount: Amount | null) => (amount === null ? null : formatCents(microsOf(amount)));
  const sum = sumOf(parts.map(({ line }) => line));
  return {
    count,
    notDue: notDue.length,
    halted,
    perHour: text(sum.perHour) ?? "",
    soFar: text(sum.soFar),
    month: text(sum.month),
    byMonthEnd: text(sum.byMonthEnd),
    notDuePerHour: text(sumOf(notDue).perHour) ?? "",
  };
}

function lineOf(part: Part, money: BurnMoney): BurnMachine | BurnFee {
  if (part.kind === "fee") {
    const { size, region, account, used, units } = part.line;
    return { kind: "fee", name: `${units} × ${size}, committed`, region, account, used, units, ...money };
  }
  const { resource, hold, isCovered, unpriced } = part.line;
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
    provider: fields.provider ?? "",
    fleet: resource.fleet ?? "",
    size: fields.size ?? "",
    state: resource.state,
    level: resource.level,
    ...money,
    isCovered,
    since: resource.runSince ?? resource.since,
    due: hold ? (hold.level === 0 ? "off" : "on") : due === null ? "leave" : due === 0 ? "off" : "on",
    why: hold ? `held by ${hold.person}: ${hold.reason}` : resource.why,
    hold: hold && { id: hold.id, level: hold.level, to: hold.to, reason: hold.reason },
    unpriced,
  };
}
