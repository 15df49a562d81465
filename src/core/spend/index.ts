export { type Running, runningSpend } from "./running";
export { GROUPINGS, type Grouping, ONLY, type Only, SORTS, type Sort } from "./grouping";
