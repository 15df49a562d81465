import { present, type State, type Unit, type World } from "./types";

/** Writes the next point of a unit's life. */
export function change(unit: Unit, { at, state, level }: { at: number; state: State; level: number }): void {
  unit.life.push({ at, state, level });
}

/** Writes an event of the unit as it now is. */
export function tell(world: World, unit: Unit, { at, type, note = "" }: { at: number; type: string; note?: string }): void {
  const { state, level } = present(unit);
  const n = (world.events[world.events.length - 1]?.n ?? 0) + 1;
  world.events.push({ n, at, account: unit.account, resource: unit.id, type, state, level, note });
}
