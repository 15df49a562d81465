import { formatInstant } from "../time";
import { FOCUS_COLUMNS, type FocusColumn, NUMBER_COLUMNS, WRITTEN_COLUMNS, type WrittenColumn } from "./columns";
import type { FocusLine } from "./read";

/** The header of a written file: the columns read by name, then those that some line carries besides. */
export function focusHeader(others: readonly string[] = []): readonly string[] {
  return [...FOCUS_COLUMNS, ...others.filter((name) => !(FOCUS_COLUMNS as readonly string[]).includes(name))];
}

/** The cells of a line under a header of `focusHeader`. Costs that were not given are written as billed. */
export function focusCells(line: FocusLine, header: readonly string[]): string[] {
  const rest: Record<string, string> = line.rest === "" ? {} : (JSON.parse(line.rest) as Record<string, string>);
  const named: Partial<Record<FocusColumn, string>> = {
    BilledCost: line.billed,
    BillingCurrency: line.currency,
    ChargeCategory: line.chargeCategory,
    ChargeDescription: line.description,
    ChargePeriodEnd: formatInstant(line.to),
    ChargePeriodStart: formatInstant(line.from),
    ConsumedQuantity: line.quantity ?? "",
    ConsumedUnit: line.unit,
    EffectiveCost: line.effective ?? line.billed,
    ListCost: line.list ?? line.billed,
    ListUnitPrice: line.rate ?? "",
    RegionId: line.region,
    ResourceId: line.resourceId,
    ResourceType: line.resourceType,
    ServiceCategory: line.serviceCategory,
    SubAccountId: line.account,
    Tags: line.tags,
  };
  return header.map((name) => harmless(name, named[name as FocusColumn] ?? rest[name] ?? ""));
}

/** A line of what was reckoned; empty where a column says nothing of it. */
export type WrittenLine = Readonly<Partial<Record<WrittenColumn, string>>>;

/** The cells of a written line, in the order of `WRITTEN_COLUMNS`. */
export function writtenCells(line: WrittenLine): string[] {
  return WRITTEN_COLUMNS.map((name) => harmless(name, line[name] ?? ""));
}

/** A text that a spreadsheet would run as a formula gets an apostrophe before it; numbers stay as they are. */
function harmless(column: string, text: string): string {
  return !NUMBER_COLUMNS.has(column) && /^[=+\-@\t\r]/.test(text) ? `'${text}` : text;
}
