import type { Override } from "./override";

/** Finds the holds on a resource and on its fleet among many: they are sorted by what they are on, once. */
export function overridesOn<H extends Pick<Override, "resourceId" | "fleet">>(
  holds: readonly H[],
): (resourceId: string, fleet: string | null) => readonly H[] {
  const onResource = groupedBy(holds, ({ resourceId }) => resourceId);
  const onFleet = groupedBy(holds, ({ resourceId, fleet }) => (resourceId === null ? fleet : null));
  return (resourceId, fleet) => {
    const own = onResource.get(resourceId) ?? [];
    const shared = fleet === null ? undefined : onFleet.get(fleet);
    return shared ? [...own, ...shared] : own;
  };
}

/** What has no key is left out. */
function groupedBy<H>(holds: readonly H[], keyOf: (hold: H) => string | null): ReadonlyMap<string, readonly H[]> {
  const groups = new Map<string, H[]>();
  for (const hold of holds) {
    const key = keyOf(hold);
    if (key === null) continue;
    const own = groups.get(key);
    if (own) own.push(hold);
    else groups.set(key, [hold]);
  }
  return groups;
}
