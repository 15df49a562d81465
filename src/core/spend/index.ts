export { GROUPINGS, type Grouping, ONLY, type Only, SORTS, type Sort } from "./grouping";
export { type Running, runningSpend } from "./running";
