import type { Level } from "@/core/hours";
import { levelUnder, overriddenWords } from "@/core/rounds";
import { accountList, MISSING_AFTER_S, type MissingStart, missingStarts, priceBooks } from "@/store";
import { type Actor, authorise, ESTATE, type Services, visibleTo } from "../../admin";
import { currencyOf, snapshotFor, tagKeysOf } from "../../inventory";
import { filterFor, type Group, groupKey, groupsOf } from "./groups";
import { type Cents, centsOfAll, sharedMoney, sumOf, totalsOf } from "./money-text";
import { type Picked, pickOf } from "./pick";
import { type Money, type Part, type PricedFee, type PricedLine, type PricedRest, priceInventory } from "./priced";
import type { BurnFee, BurnGroup, BurnLine, BurnMachine, BurnMoney, BurnPage, BurnQuery, BurnRest } from "./query";
import { spotOf } from "./spot";

/** One page of what runs, as of any instant, with the totals of all of it. Shown parts add up to shown totals. */
export async function burnPage(services: Services, actor: Actor, query: BurnQuery): Promise<BurnPage> {
  authorise(actor, "look", ESTATE);
  const { page, lineAt } = await burnLines(services, actor, query);
  const end = Math.min(page.lineCount, query.offset + query.limit);
  return { ...page, lines: Array.from({ length: Math.max(0, end - query.offset) }, (_, i) => lineAt(query.offset + i)) };
}

export type Burning = Readonly<{
  page: Omit<BurnPage, "lines">;
  lineAt: (i: number) => BurnLine;
  parts: readonly Part[];
  /** Why those that should be on by now are not, by resource. */
  missing: ReadonlyMap<string, MissingStart>;
}>;

/** Everything the page is cut from: a line is made when it is asked for. */
export async function burnLines(services: Services, actor: Actor, query: BurnQuery): Promise<Burning> {
  authorise(actor, "look", ESTATE);
  const [snapshot, prices, accounts] = await Promise.all([
    snapshotFor(services, actor, query.at),
    priceBooks(services.pool, query.view ?? "after"),
    accountList(services.pool),
  ]);
  const visible = visibleTo(actor);
  const [inventory, missing] = await Promise.all([
    priceInventory(services.pool, snapshot, prices),
    snapshot.tense === "now" ? missingStarts(services.pool, snapshot.now - MISSING_AFTER_S) : [],
  ]);
  // Fees belong to the whole: they are nobody's part of it.
  const priced = visible.isAll ? inventory : { ...inventory, fees: [] };
  const pick = pickOf(priced, query);
  const { order, passes, isWhole, error, warnings } = pick;
  // Fees belong to the whole and to nothing that is picked out of it. They come last.
  const shownLines = order.map((i) => priced.lines[i] as PricedLine);
  const rest = priced.rest.filter(({ resource, fleet }) => passes({ ...resource, fleet }));
  const parts: readonly Part[] = isWhole ? [...shownLines, ...rest, ...priced.fees] : [...shownLines, ...rest];
  const sum = sumOf(parts);
  const shown = totalsOf(parts, sum);
  const everything: readonly Part[] = isWhole ? parts : [...priced.lines, ...priced.rest, ...priced.fees];
  const laying = { lines: shownLines, rest, fees: isWhole ? priced.fees : [], pick, query, total: centsOfAll(sum) };
  const { lineCount, lineAt } = linesOf(laying);
  return {
    page: {
      now: snapshot.now,
      at: snapshot.at,
      tense: snapshot.tense,
      monthEnd: priced.monthEnd,
      currency: currencyOf(snapshot),
      view: prices.view,
      lineCount,
      shown,
      spot: spotOf(shownLines),
      all: isWhole ? shown : totalsOf(everything, sumOf(everything)),
      filterError: error,
      warnings,
      tagKeys: tagKeysOf(snapshot.resources),
      missing: missing.length,
      accounts: accounts
        .filter(({ name }) => visible.account(name))
        .map(({ name, readAt, readError }) => ({ name, readAt, error: readError })),
    },
    lineAt,
    parts,
    missing: new Map(missing.map((one) => [one.resourceId, one])),
  };
}

type Lines = Readonly<{ lineCount: number; lineAt: (i: number) => BurnLine }>;
type Laying = Readonly<{
  lines: readonly PricedLine[];
  rest: readonly PricedRest[];
  fees: readonly PricedFee[];
  pick: Picked;
  query: BurnQuery;
  total: Cents;
}>;

/** What does not run stands in one line: its sum, and how many it is of. */
type RestSum = Readonly<Money & { kind: "rest sum"; count: number }>;
type Shown = PricedLine | RestSum | PricedFee;

function restSum(rest: readonly PricedRest[]): RestSum[] {
  return rest.length === 0 ? [] : [{ kind: "rest sum", count: rest.length, ...sumOf(rest) }];
}

/** Group headings and lines in order; the lines of an open group add up to what its heading shows. */
function linesOf({ lines, rest, fees, pick, query, total }: Laying): Lines {
  if (query.group === "none") {
    const parts: readonly Shown[] = [...lines, ...restSum(rest), ...fees];
    const money = sharedMoney(parts, total);
    return { lineCount: parts.length, lineAt: (i) => lineOf(parts[i] as Shown, money.text(i)) };
  }
  const groups = withRest(groupsOf([...lines, ...fees], pick, query.group), { rest, query })
    .map(({ members, rest: off, ...group }) => {
      const own: readonly Shown[] = [
        ...members.map((i) => (lines[i] ?? fees[i - lines.length]) as PricedLine | PricedFee),
        ...restSum(off),
      ];
      return { ...group, own, sum: sumOf(own) };
    })
    .sort((a, b) => (a.sum.perHour < b.sum.perHour ? 1 : a.sum.perHour > b.sum.perHour ? -1 : a.key.localeCompare(b.key)));
  const money = sharedMoney(
    groups.map(({ sum }) => sum),
    total,
  );
  const made = groups.flatMap(({ own, key, count, notDue, filter }, i): (() => BurnLine)[] => {
    const isOpen = query.opened.includes(key);
    const heading: BurnGroup = { kind: "group", key, count, notDue, ...money.text(i), isOpen, filter };
    if (!isOpen) return [() => heading];
    const inner = sharedMoney(own, money.cents(i));
    return [() => heading, ...own.map((part, j) => () => lineOf(part, inner.text(j)))];
  });
  return { lineCount: made.length, lineAt: (i) => (made[i] as () => BurnLine)() };
}

type Grouped = Group & Readonly<{ rest: readonly PricedRest[] }>;

/** The groups of what runs, each with what does not; and groups in which nothing runs. */
function withRest(groups: readonly Group[], { rest, query }: { rest: readonly PricedRest[]; query: BurnQuery }): Grouped[] {
  const byKey = new Map<string, PricedRest[]>();
  for (const one of rest) {
    const key = groupKey({ ...one.resource, fleet: one.fleet }, query.group);
    const own = byKey.get(key);
    if (own) own.push(one);
    else byKey.set(key, [one]);
  }
  const withRunning = groups.map((group): Grouped => {
    const own = byKey.get(group.key) ?? [];
    byKey.delete(group.key);
    return { ...group, rest: own };
  });
  const others = [...byKey].map(([key, own]): Grouped => {
    const [first] = own;
    const filter = filterFor(query.group, key, first && { ...first.resource, fleet: first.fleet });
    return { key, members: [], count: 0, notDue: 0, filter, rest: own };
  });
  return [...withRunning, ...others];
}

function lineOf(part: Shown, money: BurnMoney): BurnMachine | BurnRest | BurnFee {
  if (part.kind === "rest sum") return { kind: "rest", count: part.count, ...money };
  if (part.kind === "fee") {
    const { size, region, account, used, units } = part;
    return { kind: "fee", name: `${units} × ${size}, committed`, region, account, used, units, ...money };
  }
  const { resource, hold, isCovered, unpriced } = part;
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
    isSpot: fields.purchase === "spot",
    state: resource.state,
    level: resource.level,
    ...money,
    isCovered,
    since: resource.runSince ?? resource.since,
    due: dueWord(hold ? levelUnder(hold, due) : due),
    why: hold ? overriddenWords(hold) : resource.why,
    hold: hold && {
      id: hold.id,
      level: hold.level,
      to: hold.to,
      reason: hold.reason,
      kind: hold.kind,
    },
    unpriced,
  };
}

function dueWord(level: Level | null): "off" | "on" | "leave" {
  if (level === null) return "leave";
  return level === 0 ? "off" : "on";
}
