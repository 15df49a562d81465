import { type Clock, httpProvider, type ProviderPort, remoteClock, systemClock } from "@/provider";
import { type Account, openPool, type Pool } from "@/store";

/** What every use case works with. Made once per process. */
export type Services = Readonly<{ pool: Pool; clock: Clock; provider: (account: Account) => ProviderPort }>;

/** From the environment: DATABASE_URL, and UMBRIK_CLOCK_URL where a demo's clock rules. */
export function openServices(env: Readonly<Record<string, string | undefined>>): Services {
  const databaseUrl = env.DATABASE_URL;
  if (!databaseUrl) throw new Error("DATABASE_URL is not set: start the application with `npm start`.");
  return {
    pool: openPool(databaseUrl),
    clock: env.UMBRIK_CLOCK_URL ? remoteClock(env.UMBRIK_CLOCK_URL) : systemClock,
    provider: httpProvider,
  };
}
