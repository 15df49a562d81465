import { formatCents, roundedShares } from "@/core/pricing";
import { zoneOf } from "@/core/rounds";
import { type Finding, findFindings } from "@/core/strays";
import type { Instant } from "@/core/time";
import { type Actor, authorise, ESTATE, type Services } from "../admin";
import { compileAll, currencyOf, snapshotFor } from "../inventory";
import { straysIn } from "./strays";

/** An oddity as it is shown: its money as text, and the address of its next step. */
export type FindingLine = Readonly<Pick<Finding, "key" | "what" | "says" | "step"> & { perMonth: string; href: string }>;

export type FindingsPage = Readonly<{ currency: string; at: Instant; lines: readonly FindingLine[] }>;

/** What is odd about the estate, the dearest first, now or as of another instant. What somebody said is meant is left out. */
export async function findingsPage(services: Services, actor: Actor, at: Instant | null = null): Promise<FindingsPage> {
  authorise(actor, "look", ESTATE);
  const snapshot = await snapshotFor(services, actor, at);
  const { strays, meant, input } = await straysIn(services.pool, snapshot);
  const isMeant = new Set(meant.map(({ stray }) => stray));
  const odd = findFindings({
    ...input,
    strays: strays.filter(({ key }) => !isMeant.has(key)),
    schedules: compileAll(snapshot.schedules, snapshot.calendars),
    zoneOf: (resource) => zoneOf(resource, snapshot.capabilities),
  });
  const fleetIds = new Map(snapshot.fleets.map(({ id, name }) => [name, id]));
  const shown = roundedShares(odd.map(({ perMonth }) => perMonth));
  const hrefOf = ({ place }: Finding): string => {
    switch (place.kind) {
      case "machine":
        return `/machines/${encodeURIComponent(place.id)}`;
      case "fleet":
        return `/fleets/${fleetIds.get(place.name) ?? ""}`;
      case "resources":
        return `/resources?find=${encodeURIComponent(place.find)}`;
      case "strays":
        return "/strays";
      case "prices":
        return "/prices";
    }
  };
  return {
    currency: currencyOf(snapshot),
    at: snapshot.at,
    lines: odd.map((oddity, i) => {
      const { key, what, says, step } = oddity;
      return { key, what, says, step, perMonth: formatCents(shown[i] as (typeof shown)[number]), href: hrefOf(oddity) };
    }),
  };
}
