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

/**
 * The columns of a file that Umbrik writes of what it reckoned: those that version 1.1 of the
 * specification makes mandatory, and of the conditional ones those that it can fill.
 */
export const WRITTEN_COLUMNS = [
  "BilledCost",
  "BillingAccountId",
  "BillingAccountName",
  "BillingCurrency",
  "BillingPeriodEnd",
  "BillingPeriodStart",
  "ChargeCategory",
  "ChargeClass",
  "ChargeDescription",
  "ChargeFrequency",
  "ChargePeriodEnd",
  "ChargePeriodStart",
  "CommitmentDiscountCategory",
  "CommitmentDiscountId",
  "CommitmentDiscountStatus",
  "CommitmentDiscountType",
  "ConsumedQuantity",
  "ConsumedUnit",
  "ContractedCost",
  "ContractedUnitPrice",
  "EffectiveCost",
  "InvoiceIssuerName",
  "ListCost",
  "ListUnitPrice",
  "PricingCategory",
  "PricingQuantity",
  "PricingUnit",
  "ProviderName",
  "PublisherName",
  "RegionId",
  "RegionName",
  "ResourceId",
  "ResourceName",
  "ResourceType",
  "ServiceCategory",
  "ServiceName",
  "SubAccountId",
  "SubAccountName",
  "Tags",
] as const;
export type WrittenColumn = (typeof WRITTEN_COLUMNS)[number];

/** Charges that may be below zero, whatever their class. */
export const CREDITS: ReadonlySet<string> = new Set(["Credit", "Adjustment"]);
/** The class of a charge that corrects an earlier one, and may be below zero. */
export const CORRECTION = "Correction";
