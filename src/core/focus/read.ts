import { isNearMiss, nearest } from "../selector";
import { DAY_S, formatDate, formatInstant, type Instant } from "../time";
import { CORRECTION, CREDITS, FOCUS_COLUMNS, type FocusColumn, REQUIRED_COLUMNS } from "./columns";
import { tryFocusInstant, tryFocusNumber } from "./values";

/** One charge, as it is stored. Numbers are plain decimals with all their digits; null where the file says nothing. */
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
  /**
   * The cells that are not read by name, and those that stood otherwise than Umbrik writes them ("1E-3"), as a JSON object;
   * empty without any.
   */
  rest: string;
}>;

const NUMBERS = ["BilledCost", "EffectiveCost", "ListCost", "ListUnitPrice", "ConsumedQuantity"] as const;
/** Read by name, and kept as they stand all the same. */
const CARRIED: ReadonlySet<string> = new Set(["BillingAccountId", "ProviderName", "ResourceName"]);

export type LineResult = Readonly<{ ok: true; line: FocusLine } | { ok: false; reason: string }>;
export type LineReader = (cells: readonly string[]) => LineResult;

const CELL_MAX = 4000;
/** The longest that a charge may last: a commitment paid for three years ahead, and a day. */
const LASTS_MAX_S = 1_097 * DAY_S;
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
  const classAt = header.indexOf("ChargeClass");
  // Names are written into JSON once, not with every line.
  const keys = header.map((_, i) => JSON.stringify(keyOf(header, i)));
  const isCarried = (name: string) => !(FOCUS_COLUMNS as readonly string[]).includes(name) || CARRIED.has(name);
  const kept = header.flatMap((name, i) => (isCarried(name) ? [i] : []));
  const isTags = rememberedTags();
  const instantOf = rememberedInstants();
  const dateOf = rememberedDates();
  const numbers = NUMBERS.map((name) => ({ name, i: at[name] })).filter(({ i }) => i >= 0);
  // A million lines: nothing is made for a line but the line.
  const number: Record<(typeof NUMBERS)[number], string | null> = {
    BilledCost: null,
    EffectiveCost: null,
    ListCost: null,
    ListUnitPrice: null,
    ConsumedQuantity: null,
  };
  const odd: number[] = [];

  return (cells) => {
    odd.length = 0;
    if (cells.length !== header.length) return refused(`${cells.length} cells, and the header has ${header.length}`);
    for (const cell of cells) if (cell.length > CELL_MAX) return refused(`a cell is longer than ${CELL_MAX} characters`);
    const [starts, ends] = [cellAt(cells, at.ChargePeriodStart), cellAt(cells, at.ChargePeriodEnd)];
    const from = instantOf(starts);
    if (from === null) return refused(`ChargePeriodStart "${starts}" is no instant such as 2027-03-01T00:00:00Z`);
    const to = instantOf(ends);
    if (to === null) return refused(`ChargePeriodEnd "${ends}" is no instant such as 2027-03-01T00:00:00Z`);
    if (to <= from) return refused(`ChargePeriodEnd ${ends} is not after its start`);
    if (to - from > LASTS_MAX_S)
      return refused(`the charge lasts ${Math.round((to - from) / DAY_S)} days: at most ${LASTS_MAX_S / DAY_S} are read`);
    if (!isOurs(starts, from)) odd.push(at.ChargePeriodStart);
    if (!isOurs(ends, to)) odd.push(at.ChargePeriodEnd);
    for (const { name, i } of numbers) {
      const text = cells[i] as string;
      const plain = text === "" ? null : tryFocusNumber(text);
      if (plain === null && text !== "") return refused(`${name} "${text}" is no number; a decimal takes a point`);
      if (plain !== null && plain !== text) odd.push(i);
      number[name] = plain;
    }
    const billed = number.BilledCost;
    if (billed === null) return refused("BilledCost is empty");
    const chargeCategory = cellAt(cells, at.ChargeCategory);
    if (billed.charCodeAt(0) === 45 && !CREDITS.has(chargeCategory) && cellAt(cells, classAt) !== CORRECTION)
      return refused(
        `BilledCost ${billed} is below zero, ChargeCategory is "${chargeCategory}", no credit, and ChargeClass is not ${CORRECTION}`,
      );
    const paidIn = cellAt(cells, at.BillingCurrency);
    if (paidIn !== currency) return refused(`BillingCurrency "${paidIn}": expected ${currency}, amounts are never mixed`);
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
        quantity: number.ConsumedQuantity,
        unit: cellAt(cells, at.ConsumedUnit),
        rate: number.ListUnitPrice,
        billed,
        effective: number.EffectiveCost,
        list: number.ListCost,
        currency,
        tags,
        rest: restOf(keys, cells, [kept, odd]),
      },
    };
  };
}

/** What a column is kept under: its name, or its place where it has none. */
export function keyOf(header: readonly string[], i: number): string {
  return header[i] || `#${i + 1}`;
}

/** Whether an instant stands as Umbrik writes it. */
function isOurs(text: string, t: Instant): boolean {
  // One of this length without an offset of its own is written in one way only.
  return text.length === 20 && text.charCodeAt(10) === 84 && text.charCodeAt(19) === 90 ? true : text === formatInstant(t);
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

function restOf(keys: readonly string[], cells: readonly string[], places: readonly (readonly number[])[]): string {
  let text = "";
  for (const some of places) {
    for (const i of some) {
      const value = cells[i];
      if (value) text += `${text === "" ? "{" : ","}${keys[i]}:${PLAIN.test(value) ? `"${value}"` : JSON.stringify(value)}`;
    }
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
    const t = tryFocusInstant(text);
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
