import type { Instant } from "../time";
import type { Override, OverrideKind } from "./override";

/** One that is to be. */
export type NewOverride = Readonly<Omit<Override, "id"> & { person: string }>;

/** What becomes of overrides: those that end before their time, those whose end moves, and those that come. */
export type OverrideChanges = Readonly<{
  end: readonly Readonly<{ ids: readonly number[]; at: Instant; by: string }>[];
  move: readonly Readonly<{ id: number; to: Instant }>[];
  add: readonly NewOverride[];
}>;

export const NO_OVERRIDE_CHANGES: OverrideChanges = { end: [], move: [], add: [] };

export function isChange({ end, move, add }: OverrideChanges): boolean {
  return end.some(({ ids }) => ids.length > 0) || move.length > 0 || add.length > 0;
}

/** The overrides that stand after changes; `added` are those of `add` as they were kept, with their numbers. */
export function afterChanges<O extends Override>(
  overrides: readonly O[],
  { end, move }: OverrideChanges,
  added: readonly O[],
): readonly O[] {
  const ended = new Set(end.flatMap(({ ids }) => ids));
  const ends = new Map(move.map(({ id, to }) => [id, to]));
  const staying = overrides.filter(({ id }) => !ended.has(id));
  return [
    ...added,
    ...(ends.size === 0 ? staying : staying.map((one) => (ends.has(one.id) ? { ...one, to: ends.get(one.id) as Instant } : one))),
  ];
}

/** Something that a rule made, or that stands for a person's start: of one resource, at a level, for a while. */
export function newOverride(
  kind: OverrideKind,
  more: Omit<NewOverride, "kind" | "fleet" | "ruleKey" | "offAction"> & Partial<Pick<NewOverride, "ruleKey" | "offAction">>,
): NewOverride {
  return { kind, fleet: null, ruleKey: null, offAction: null, ...more };
}
