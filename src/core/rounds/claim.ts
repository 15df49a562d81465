import type { FleetPlan } from "../plan";
import { matcher, necessaryValue, type Selectable, selectorOf, valueUnder } from "../selector";

type Test = Readonly<{ rank: number; fleet: FleetPlan; matches: (resource: Selectable) => boolean }>;

/**
 * Finds the highest-ranked fleet that matches a resource; null where none does. Most selectors ask
 * for one value of one key whatever else they say: those are looked up by it, so that thousands of
 * machines need not try every fleet.
 */
export function claimer(fleets: readonly FleetPlan[]): (resource: Selectable) => FleetPlan | null {
  const anyway: Test[] = [];
  const byKey = new Map<string, { read: (resource: Selectable) => string | undefined; tests: Map<string, Test[]> }>();
  fleets.forEach((fleet, rank) => {
    const selector = selectorOf(fleet.select);
    const test: Test = { rank, fleet, matches: matcher(selector) };
    const needs = necessaryValue(selector);
    if (!needs) {
      anyway.push(test);
      return;
    }
    const name = `${needs.key.kind} ${needs.key.name}`;
    const index = byKey.get(name) ?? {
      read: (resource: Selectable) => valueUnder(resource, needs.key),
      tests: new Map<string, Test[]>(),
    };
    index.tests.set(needs.value, [...(index.tests.get(needs.value) ?? []), test]);
    byKey.set(name, index);
  });
  const indexes = [...byKey.values()];

  return (resource) => {
    let best: Test | undefined = firstMatch(anyway, resource);
    for (const { read, tests } of indexes) {
      const value = read(resource);
      const found = value === undefined ? undefined : firstMatch(tests.get(value) ?? [], resource);
      if (found && (!best || found.rank < best.rank)) best = found;
    }
    return best?.fleet ?? null;
  };
}

/** A fleet with its rank, 1 above all others; one that is not in force takes nothing. */
export type Ranked = Readonly<{ rank: number; inForce: FleetPlan | null }>;

/** Finds the fleet in force above a rank that has a resource; null where none has: then a fleet of that rank would have it. */
export function claimerAbove(fleets: readonly Ranked[], rank: number): (resource: Selectable) => FleetPlan | null {
  return claimer(fleets.flatMap((fleet) => (fleet.inForce && fleet.rank < rank ? [fleet.inForce] : [])));
}

function firstMatch(tests: readonly Test[], resource: Selectable): Test | undefined {
  for (const test of tests) if (test.matches(resource)) return test;
  return undefined;
}
