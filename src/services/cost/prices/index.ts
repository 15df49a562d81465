export { addCommitment, type CommitmentDraft, dropCommitment, importCommitments } from "./commitments";
export { importPrices, type PricesTaken, pricesCsv } from "./csv";
export { addDiscount, type DiscountDraft, dropDiscount } from "./discounts";
export { overridePrice, type PriceOverride } from "./override";
export { type PriceBookView, type PriceRow, priceBookView } from "./view";
