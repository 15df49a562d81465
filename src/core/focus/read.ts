import { isNearMiss, nearest } from "../selector";
import { DAY_S, formatDate, type Instant, tryParseInstant } from "../time";
import { CREDITS, FOCUS_COLUMNS, type FocusColumn, REQUIRED_COLUMNS } from "./columns";

/** One charge, as it is stored. Decimals stay the text they were given as; null where the file says nothing. */
export type FocusLine = Readonly<{
  day: string;
  from: Instant;
  to: Instant;
  account: string;
  resourceId: string;
  resourceType: string;
  region: string;
  serviceCategory: string;
  chargeCategory: string;
  description: string;
  quantity: string | null;
  unit: string;
  rate: string | null;
  billed: string;
  effective: string | null;
  list: string | null;
  currency: string;
  tags: string;
  /** The columns that are not read by name, as a JSON object; empty without any. */
  rest: string;
}>;

export type LineResult = Readonly<{ ok: true; line: FocusLine } | { ok: false; reason: string }>;
export type LineReader = (cells: readonly string[]) => LineResult;

const CELL_MAX = 4000;
const DECIMAL = /^-?(?:\d{1,20}(?:\.\d{1,20})?|\.\d{1,20})$/;
/** Instants repeat by the thousand in a file; reading one is dear beside looking it up. */
const REMEMBERED_MAX = 20_000;

/** What is wrong with a header; empty where nothing is. */
export function headerIssues(header: readonly string[]): string[] {
  const known = new Map(FOCUS_COLUMNS.map((name) => [name as string, 1]));
  const issues = REQUIRED_COLUMNS.filter((name) => !header.includes(name)).map((name) => {
    const near = nearest(name, new Map(header.filter((one) => !known.has(one)).map((one) => [one, 1])));
    const hint = near && isNearMiss(name, near.name) ? `; there is "${near.name}"` : "";
    return `the column ${name} is missing${hint}`;
  });
  const doubled = header.filter((name, i) => name !== "" && header.indexOf(name) !== i);
  return [...issues, ...[...new Set(doubled)].map((name) => `the column ${name} is there twice`)];
}

/** Reads the lines under a header that has no issues. All have to be in `currency`. */
export function lineReader(header: readonly string[], currency: string): LineReader {
  const at = Object.fromEntries(FOCUS_COLUMNS.map((name) => [name, header.indexOf(name)])) as Record<FocusColumn, number>;
  const others = header.flatMap((name, i) =>
    name !== "" && !(FOCUS_COLUMNS as readonly string[]).includes(name) ? [{ name, i }] : [],
  );
  const carried = (["BillingAccountId", "ProviderName", "ResourceName"] as const)
    .map((name) => ({ name: name as string, i: at[name] }))
    .filter(({ i }) => i >= 0);
  // Names are written into JSON once, not with every line.
  const kept = [...carried, ...others].map(({ name, i }) => ({ name: JSON.stringify(name).slice(1, -1), i }));
  const isTags = rememberedTags();
  const instantOf = rememberedInstants();
  const dateOf = rememberedDates();
  const decimals = (["EffectiveCost", "ListCost", "ListUnitPrice", "ConsumedQuantity"] as const)
    .map((name) => ({ name, i: at[name] }))
    .filter(({ i }) => i >= 0);

  // A million lines: nothing is made for a line but the line.
  return (cells) => {
    if (cells.length !== header.length) return refused(`${cells.length} cells, and the header has ${header.length}`);
    for (const cell of cells) if (cell.length > CELL_MAX) return refused(`a cell is longer than ${CELL_MAX} characters`);
    const [starts, ends] = [cellAt(cells, at.ChargePeriodStart), cellAt(cells, at.ChargePeriodEnd)];
    const from = instantOf(starts);
    if (from === null) return refused(`ChargePeriodStart "${starts}" is no instant`);
    const to = instantOf(ends);
    if (to === null) return refused(`ChargePeriodEnd "${ends}" is no instant`);
    if (to <= from) return refused(`ChargePeriodEnd ${ends} is not after its start`);
    const billed = cellAt(cells, at.BilledCost);
    if (!DECIMAL.test(billed)) return refused(`BilledCost "${billed}" is no decimal`);
    const chargeCategory = cellAt(cells, at.ChargeCategory);
    if (billed.charCodeAt(0) === 45 && !CREDITS.has(chargeCategory))
      return refused(`BilledCost ${billed} is below zero, and ChargeCategory is "${chargeCategory}", no credit`);
    const paidIn = cellAt(cells, at.BillingCurrency);
    if (paidIn !== currency) return refused(`BillingCurrency "${paidIn}": expected ${currency}, amounts are never mixed`);
    for (const { name, i } of decimals) {
      const text = cells[i] as string;
      if (text !== "" && !DECIMAL.test(text)) return refused(`${name} "${text}" is no decimal`);
    }
    const tags = cellAt(cells, at.Tags);
    if (tags !== "" && !isTags(tags)) return refused("Tags: expected a JSON object");
    return {
      ok: true,
      line: {
        day: dateOf(from),
        from,
        to,
        account: cellAt(cells, at.SubAccountId),
        resourceId: cellAt(cells, at.ResourceId),
        resourceType: cellAt(cells, at.ResourceType),
        region: cellAt(cells, at.RegionId),
        serviceCategory: cellAt(cells, at.ServiceCategory),
        chargeCategory,
        description: cellAt(cells, at.ChargeDescription),
        quantity: cellAt(cells, at.ConsumedQuantity) || null,
        unit: cellAt(cells, at.ConsumedUnit),
        rate: cellAt(cells, at.ListUnitPrice) || null,
        billed,
        effective: cellAt(cells, at.EffectiveCost) || null,
        list: cellAt(cells, at.ListCost) || null,
        currency,
        tags,
        rest: restOf(kept, cells),
      },
    };
  };
}

/** A column that the file does not have is empty in every line. */
function cellAt(cells: readonly string[], i: number): string {
  return i < 0 ? "" : (cells[i] as string);
}

function refused(reason: string): LineResult {
  return { ok: false, reason };
}

/** What JSON writes as it stands. */
const PLAIN = /^[\w .,:/@+-]*$/;

function restOf(kept: readonly Readonly<{ name: string; i: number }>[], cells: readonly string[]): string {
  let text = "";
  for (const { name, i } of kept) {
    const value = cells[i];
    if (value) text += `${text === "" ? "{" : ","}"${name}":${PLAIN.test(value) ? `"${value}"` : JSON.stringify(value)}`;
  }
  return text === "" ? "" : `${text}}`;
}

/** The tags of a resource stand on every line of it. */
function rememberedTags(): (text: string) => boolean {
  const known = new Map<string, boolean>();
  return (text) => {
    const found = known.get(text) ?? isObject(text);
    if (known.size >= REMEMBERED_MAX) known.clear();
    known.set(text, found);
    return found;
  };
}

function isObject(text: string): boolean {
  if (text === "{}") return true;
  if (text.charCodeAt(0) !== 123) return false;
  try {
    const value: unknown = JSON.parse(text);
    return typeof value === "object" && value !== null && !Array.isArray(value);
  } catch {
    return false;
  }
}

function rememberedInstants(): (text: string) => Instant | null {
  const known = new Map<string, Instant | null>();
  return (text) => {
    const found = known.get(text);
    if (found !== undefined) return found;
    // Files write instants with a space or with fractions of a second too.
    const t = tryParseInstant(text.replace(" ", "T").replace(/\.\d+(?=Z|[+-])/, ""));
    if (known.size >= REMEMBERED_MAX) known.clear();
    known.set(text, t);
    return t;
  };
}

/** Dates repeat too. */
function rememberedDates(): (t: Instant) => string {
  const known = new Map<number, string>();
  return (t) => {
    const day = Math.floor(t / DAY_S);
    const text = known.get(day) ?? formatDate(day);
    known.set(day, text);
    return text;
  };
}
