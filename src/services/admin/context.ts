import { type Clock, type Mailer, noMailer, type ProviderParts, partsOf, remoteClock, smtpMailer, systemClock } from "@/provider";
import { type Account, openPool, type Pool } from "@/store";

/** What every use case works with. Made once per process. */
export type Services = Readonly<{
  pool: Pool;
  clock: Clock;
  /** The parts of an account; once the signal aborts it asks nothing more. */
  provider: (account: Account, signal?: AbortSignal) => ProviderParts;
  mailer: Mailer;
  /** Where people find the application; links in mails begin with it. */
  url: string;
  /** Where a demo's mail sink can be read; null without one. */
  sinkUrl: string | null;
  /** Webhooks may lead to this machine: for trying them out. */
  allowsLocalWebhooks: boolean;
  /** Sources of metrics that are asked may be on this machine. */
  allowsLocalSources: boolean;
}>;

const HERE = "http://127.0.0.1:4780";

/** From the environment: docs/operations.md lists what is read. */
export function openServices(env: Readonly<Record<string, string | undefined>>): Services {
  const databaseUrl = env.DATABASE_URL;
  if (!databaseUrl) throw new Error("DATABASE_URL is not set: start the application with `npm start`.");
  const url = (env.UMBRIK_URL ?? HERE).replace(/\/+$/, "");
  if (!URL.canParse(url)) throw new Error(`UMBRIK_URL ${url}: expected an address such as https://umbrik.example`);
  return {
    pool: openPool(databaseUrl, { max: poolSize(env.UMBRIK_POOL) }),
    clock: env.UMBRIK_CLOCK_URL ? remoteClock(env.UMBRIK_CLOCK_URL) : systemClock,
    provider: partsOf,
    mailer: env.SMTP_URL
      ? smtpMailer(env.SMTP_URL, env.UMBRIK_MAIL_FROM ?? `Umbrik <umbrik@${new URL(url).hostname}>`)
      : noMailer,
    url,
    sinkUrl: env.UMBRIK_SINK_URL ?? null,
    allowsLocalWebhooks: env.UMBRIK_LOCAL_WEBHOOKS === "allow",
    allowsLocalSources: env.UMBRIK_LOCAL_SOURCES === "allow",
  };
}

const POOL_SIZE = 8;
/** A round holds one connection while it runs, the queue one, and what listens one. */
const POOL_LEAST = 4;

function poolSize(text: string | undefined): number {
  if (text === undefined) return POOL_SIZE;
  const size = Number(text);
  if (!Number.isInteger(size) || size < POOL_LEAST || size > 1000)
    throw new Error(`UMBRIK_POOL ${text}: expected a whole number of connections, from ${POOL_LEAST} to 1000`);
  return size;
}
