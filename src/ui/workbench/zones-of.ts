import type { Basis } from "@/services/cost";
import type { LivedIn } from "./schedule-choice";

/** The zones where the people of a fleet's machines live, most machines first. */
export function zonesOf(basis: Basis | null, regionZones: Readonly<Record<string, string>>): LivedIn[] {
  const counts = new Map<string, number>();
  for (const { resource } of basis?.lines ?? []) {
    const zone = regionZones[resource.fields.region ?? ""];
    if (zone !== undefined) counts.set(zone, (counts.get(zone) ?? 0) + 1);
  }
  return [...counts].map(([zone, machines]) => ({ zone, machines })).sort((a, b) => b.machines - a.machines);
}
