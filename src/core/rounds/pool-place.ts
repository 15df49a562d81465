import { type CompiledSchedule, HOURS_OFF, type HoursLevel, ON } from "../hours";

/** Resources of a pool with their places: which of a count of machines each is, by name. */
export function placesByName(members: readonly Readonly<{ id: string; name: string }>[]): Map<string, number> {
  const inOrder = [...members].sort((a, b) => (a.name < b.name ? -1 : a.name > b.name ? 1 : a.id < b.id ? -1 : 1));
  return new Map(inOrder.map(({ id }, place) => [id, place]));
}

const placed = new WeakMap<CompiledSchedule, Map<number, CompiledSchedule>>();

/**
 * Hours that give a pool a count, for the machine at one place of it: on while the count is above its place. So the machines
 * together are as many as the hours say, whatever else is known of them.
 */
export function atPlace(compiled: CompiledSchedule, place: number): CompiledSchedule {
  const known = placed.get(compiled) ?? new Map<number, CompiledSchedule>();
  placed.set(compiled, known);
  const own = known.get(place) ?? { ...compiled, dayOf: placedDays(compiled, place) };
  known.set(place, own);
  return own;
}

function placedDays(compiled: CompiledSchedule, place: number): CompiledSchedule["dayOf"] {
  const made = new WeakMap<object, ReturnType<CompiledSchedule["dayOf"]>>();
  return (day) => {
    const stretches = compiled.dayOf(day);
    const own = made.get(stretches) ?? stretches.map((stretch) => ({ ...stretch, level: levelAt(stretch.level, place) }));
    made.set(stretches, own);
    return own;
  };
}

function levelAt(said: HoursLevel | null, place: number): HoursLevel | null {
  if (said === null || said === ON) return said;
  return said > place ? ON : HOURS_OFF;
}
