import type { CompiledSchedule } from "./compile";

/** In place of a zone: the hours are lived in the zone of each resource's region (docs/model.md, Hours: a schedule). */
export const LOCAL = "local";

const made = new WeakMap<CompiledSchedule, Map<string, CompiledSchedule>>();

/** True for hours that have no zone of their own, and cannot be asked before they are lived somewhere. */
export function isLocal({ schedule }: CompiledSchedule): boolean {
  return schedule.zone === LOCAL;
}

/** The same hours lived in a zone; asked again, the same object. Those with a zone of their own stay in it. */
export function livedIn(compiled: CompiledSchedule, zone: string): CompiledSchedule {
  if (!isLocal(compiled)) return compiled;
  const known = made.get(compiled) ?? new Map<string, CompiledSchedule>();
  made.set(compiled, known);
  // Which row speaks for a local day, and what it paints, is the same everywhere.
  const lived = known.get(zone) ?? { ...compiled, schedule: { ...compiled.schedule, zone } };
  known.set(zone, lived);
  return lived;
}
