export { type WorldAt, withPlansAt, worldAt } from "./as-of";
export type { Tense } from "./due";
