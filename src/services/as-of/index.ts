export type { Tense } from "./due";
export { type WorldAt, worldAt } from "./world";
