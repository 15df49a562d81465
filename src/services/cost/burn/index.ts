export { burnCsv } from "./csv";
export { endOfMonth, startOfMonth } from "./month";
export { burnPage } from "./page";
export type { BurnFee, BurnGroup, BurnLine, BurnMachine, BurnPage, BurnQuery, BurnTotals } from "./query";
export { type NamedSum, type SpendNow, type SpendOfDay, spendNow, spendOfDay } from "./spend";
