import type { Capabilities, SetAside } from "@/core/plan";
import type { Instant } from "@/core/time";
import { accountList, firstChangeAt } from "@/store";
import { authorise, type Person, type Services } from "../admin";
import { capabilitiesByProvider } from "./stored";

export type AccountView = Readonly<{
  name: string;
  provider: string;
  readAt: Instant | null;
  error: string | null;
  setAside: readonly SetAside[];
}>;

/** The accounts and what their providers say of themselves. Keys stay on the server. */
export async function setupView(
  services: Services,
  person: Person,
): Promise<{ accounts: AccountView[]; providers: Capabilities[] }> {
  authorise(person, "look");
  const accounts = await accountList(services.pool);
  return {
    accounts: accounts.map(({ name, provider, readAt, readError, setAside }) => ({
      name,
      provider,
      readAt,
      error: readError,
      setAside,
    })),
    providers: [...capabilitiesByProvider(accounts).values()],
  };
}

/** The zones where people of the regions live, as the providers name them, and UTC. */
export async function regionZones(services: Services, person: Person): Promise<string[]> {
  const { providers } = await setupView(services, person);
  const zones = providers.flatMap(({ regions }) => regions.map(({ peopleZone }) => peopleZone));
  return [...new Set([...zones, "UTC"])];
}

/** Region to the zone where its people live. */
export async function regionPlaces(services: Services, person: Person): Promise<Record<string, string>> {
  const { providers } = await setupView(services, person);
  return Object.fromEntries(providers.flatMap(({ regions }) => regions.map(({ name, peopleZone }) => [name, peopleZone])));
}

/** When the first change of anything was told of; null before any. */
export async function recordsFrom(services: Services, person: Person): Promise<Instant | null> {
  authorise(person, "look");
  return firstChangeAt(services.pool);
}
