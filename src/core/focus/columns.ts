/**
 * Columns of the open FOCUS specification 1.x (FinOps Open Cost and Usage Specification) that are
 * read and written by name; a file may carry others, which are kept as they stand.
 */
export const FOCUS_COLUMNS = [
  "BilledCost",
  "BillingAccountId",
  "BillingCurrency",
  "ChargeCategory",
  "ChargeDescription",
  "ChargePeriodEnd",
  "ChargePeriodStart",
  "ConsumedQuantity",
  "ConsumedUnit",
  "EffectiveCost",
  "ListCost",
  "ListUnitPrice",
  "ProviderName",
  "RegionId",
  "ResourceId",
  "ResourceName",
  "ResourceType",
  "ServiceCategory",
  "SubAccountId",
  "Tags",
] as const;
export type FocusColumn = (typeof FOCUS_COLUMNS)[number];

export const REQUIRED_COLUMNS = ["BilledCost", "BillingCurrency", "ChargePeriodStart", "ChargePeriodEnd"] as const;

/** Charges that may be below zero. */
export const CREDITS: ReadonlySet<string> = new Set(["Credit", "Adjustment"]);
