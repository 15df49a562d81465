export { type SnapshotAt, snapshotAt, withPlansAt } from "./as-of";
export type { Tense } from "./due";
