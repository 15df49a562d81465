import { formatInstant } from "../time";
import { type FocusColumn, WRITTEN_COLUMNS, type WrittenColumn } from "./columns";
import { type FocusLine, keyOf } from "./read";
import { tryFocusNumber } from "./values";

/** The cells of a line under the header that its file had: as they came, but for what `harmless` does. */
export function focusCells(line: FocusLine, header: readonly string[]): string[] {
  const rest: Record<string, string> = line.rest === "" ? {} : (JSON.parse(line.rest) as Record<string, string>);
  const named = {
    BilledCost: line.billed,
    BillingCurrency: line.currency,
    ChargeCategory: line.chargeCategory,
    ChargeDescription: line.description,
    ChargePeriodEnd: formatInstant(line.to),
    ChargePeriodStart: formatInstant(line.from),
    ConsumedQuantity: line.quantity ?? "",
    ConsumedUnit: line.unit,
    EffectiveCost: line.effective ?? "",
    ListCost: line.list ?? "",
    ListUnitPrice: line.rate ?? "",
    RegionId: line.region,
    ResourceId: line.resourceId,
    ResourceType: line.resourceType,
    ServiceCategory: line.serviceCategory,
    SubAccountId: line.account,
    Tags: line.tags,
  } satisfies Partial<Record<FocusColumn, string>>;
  return header.map((name, i) => harmless(own(rest, keyOf(header, i)) ?? own(named, name) ?? ""));
}

/** What stands there itself: a column may be called as what every object has ("constructor"). */
function own(texts: Readonly<Record<string, string>>, key: string): string | undefined {
  return Object.hasOwn(texts, key) ? texts[key] : undefined;
}

/** A line of what was reckoned; empty where a column says nothing of it. */
export type WrittenLine = Readonly<Partial<Record<WrittenColumn, string>>>;

/** The cells of a written line, in the order of `WRITTEN_COLUMNS`. */
export function writtenCells(line: WrittenLine): string[] {
  return WRITTEN_COLUMNS.map((name) => harmless(line[name] ?? ""));
}

/** A text that a spreadsheet would run as a formula gets an apostrophe before it; a number is none, whatever its column. */
function harmless(text: string): string {
  return /^[=+\-@\t\r]/.test(text) && tryFocusNumber(text) === null ? `'${text}` : text;
}
