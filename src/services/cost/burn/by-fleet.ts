import type { MoneyView } from "@/core/pricing";
import type { Instant } from "@/core/time";
import { type Actor, authorise, ESTATE, type Services } from "../../admin";
import { burnPage } from "./page";
import type { BurnMoney } from "./query";

/** What each fleet costs, by its name, and everything together: Burn's own figures. */
export type FleetsMoney = Readonly<{
  currency: string;
  monthEnd: Instant;
  fleets: Readonly<Record<string, BurnMoney>>;
  all: BurnMoney;
}>;

const PAGE = 500;

/** Burn's groups by fleet, now or as of another instant. */
export async function fleetsMoney(
  services: Services,
  actor: Actor,
  { at, view }: { at: Instant | null; view: MoneyView },
): Promise<FleetsMoney> {
  authorise(actor, "look", ESTATE);
  const fleets: Record<string, BurnMoney> = {};
  for (let offset = 0; ; offset += PAGE) {
    const page = await burnPage(services, actor, {
      filters: [],
      group: "fleet",
      sort: "perHour",
      isDescending: true,
      only: "all",
      opened: [],
      offset,
      limit: PAGE,
      at,
      view,
    });
    for (const line of page.lines) if (line.kind === "group") fleets[line.key] = line;
    if (offset + PAGE >= page.lineCount) return { currency: page.currency, monthEnd: page.monthEnd, fleets, all: page.all };
  }
}
