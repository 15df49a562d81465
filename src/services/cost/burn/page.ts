import { accountList, priceBooks } from "@/store";
import { authorise, type Person, type Services } from "../../admin";
import { currencyOf, worldAt } from "../../inventory";
import { groupsOf } from "./groups";
import { type Cents, centsOfAll, sharedMoney, sumOf, totalsOf } from "./money-text";
import { pickOf } from "./pick";
import { type Part, type PricedLine, priceStanding } from "./priced";
import type { BurnFee, BurnGroup, BurnLine, BurnMachine, BurnMoney, BurnPage, BurnQuery } from "./query";

/** One page of what runs, as of any instant, with the totals of all of it. Shown parts add up to shown totals. */
export async function burnPage(services: Services, person: Person, query: BurnQuery): Promise<BurnPage> {
  const { page, lineAt } = await burnLines(services, person, query);
  const end = Math.min(page.lineCount, query.offset + query.limit);
  return { ...page, lines: Array.from({ length: Math.max(0, end - query.offset) }, (_, i) => lineAt(query.offset + i)) };
}

/** Everything the page is cut from: a line is made when it is asked for. */
export async function burnLines(
  services: Services,
  person: Person,
  query: BurnQuery,
): Promise<Readonly<{ page: Omit<BurnPage, "lines">; lineAt: (i: number) => BurnLine; parts: readonly Part[] }>> {
  authorise(person, "look");
  const [world, prices, accounts] = await Promise.all([
    worldAt(services, query.at),
    priceBooks(services.pool),
    accountList(services.pool),
  ]);
  const priced = await priceStanding(services.pool, world, prices);
  const { order, isWhole, error, warnings } = pickOf(priced, query);
  // Fees belong to the whole and to nothing that is picked out of it. They come last.
  const shownLines = order.map((i) => priced.lines[i] as PricedLine);
  const parts: readonly Part[] = isWhole ? [...shownLines, ...priced.fees] : shownLines;
  const sum = sumOf(parts);
  const shown = totalsOf(parts, sum);
  const everything: readonly Part[] = isWhole ? parts : [...priced.lines, ...priced.fees];
  const { lineCount, lineAt } = linesOf(parts, { order, query, total: centsOfAll(sum) });
  return {
    page: {
      now: world.now,
      at: world.at,
      tense: world.tense,
      monthEnd: priced.monthEnd,
      currency: currencyOf(world),
      lineCount,
      shown,
      all: isWhole ? shown : totalsOf(everything, sumOf(everything)),
      filterError: error,
      warnings,
      tagKeys: tagKeysOf(world.resources),
      accounts: accounts.map(({ name, readAt, readError }) => ({ name, readAt, error: readError })),
    },
    lineAt,
    parts,
  };
}

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

type Lines = Readonly<{ lineCount: number; lineAt: (i: number) => BurnLine }>;
type Laying = Readonly<{ order: readonly number[]; query: BurnQuery; total: Cents }>;

/** Group headings and lines in order; the lines of an open group add up to what its heading shows. */
function linesOf(parts: readonly Part[], { order, query, total }: Laying): Lines {
  if (query.group === "none") {
    const money = sharedMoney(parts, total);
    return { lineCount: parts.length, lineAt: (i) => lineOf(parts[i] as Part, money.text(i)) };
  }
  const groups = groupsOf(parts, order, query.group)
    .map((group) => ({ ...group, own: group.members.map((i) => parts[i] as Part) }))
    .map((group) => ({ ...group, sum: sumOf(group.own) }))
    .sort((a, b) => (a.sum.perHour < b.sum.perHour ? 1 : a.sum.perHour > b.sum.perHour ? -1 : a.key.localeCompare(b.key)));
  const money = sharedMoney(
    groups.map(({ sum }) => sum),
    total,
  );
  const lines = groups.flatMap(({ own, key, count, notDue, filter }, i): (() => BurnLine)[] => {
    const isOpen = query.opened.includes(key);
    const heading: BurnGroup = { kind: "group", key, count, notDue, ...money.text(i), isOpen, filter };
    if (!isOpen) return [() => heading];
    const inner = sharedMoney(own, money.cents(i));
    return [() => heading, ...own.map((part, j) => () => lineOf(part, inner.text(j)))];
  });
  return { lineCount: lines.length, lineAt: (i) => (lines[i] as () => BurnLine)() };
}

function lineOf(part: Part, money: BurnMoney): BurnMachine | BurnFee {
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
