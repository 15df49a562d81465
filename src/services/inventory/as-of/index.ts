export { type WorldAt, worldAt } from "./as-of";
export type { Tense } from "./due";
