import type { Capabilities, SetAside } from "@/core/plan";
import type { Instant } from "@/core/time";
import { accountList, firstChangeAt } from "@/store";
import { type Actor, authorise, ESTATE, type Services, visibleTo } from "../admin";
import { byProvider, capabilitiesByAccount } from "./snapshot";

export type AccountView = Readonly<{
  name: string;
  provider: string;
  readAt: Instant | null;
  error: string | null;
  /** Why parts of it could not be read, by part. */
  partErrors: Readonly<Record<string, string>>;
  setAside: readonly SetAside[];
}>;

/** The accounts and what their providers say of themselves. Keys stay on the server. */
export async function setupView(
  services: Services,
  actor: Actor,
): Promise<{ accounts: AccountView[]; providers: Capabilities[] }> {
  authorise(actor, "look", ESTATE);
  const visible = visibleTo(actor);
  const accounts = (await accountList(services.pool)).filter(({ name }) => visible.account(name));
  return {
    accounts: accounts.map(({ name, provider, readAt, readError, setAside, partErrors }) => ({
      name,
      provider,
      readAt,
      error: readError,
      setAside,
      partErrors,
    })),
    providers: [...byProvider({ capabilities: capabilitiesByAccount(accounts) }).values()],
  };
}

/** The zones where people of the regions live, as the providers name them, and UTC. */
export async function regionZones(services: Services, actor: Actor): Promise<string[]> {
  authorise(actor, "look", ESTATE);
  const { providers } = await setupView(services, actor);
  const zones = providers.flatMap(({ regions }) => regions.map(({ peopleZone }) => peopleZone));
  return [...new Set([...zones, "UTC"])];
}

/** Region to the zone where its people live. */
export async function regionPlaces(services: Services, actor: Actor): Promise<Record<string, string>> {
  authorise(actor, "look", ESTATE);
  const { providers } = await setupView(services, actor);
  return Object.fromEntries(providers.flatMap(({ regions }) => regions.map(({ name, peopleZone }) => [name, peopleZone])));
}

/** When the first change of anything was told of; null before any. */
export async function recordsFrom(services: Services, actor: Actor): Promise<Instant | null> {
  authorise(actor, "look", ESTATE);
  return firstChangeAt(services.pool);
}
