import pg from "pg";

const PROBE_MS = 2_000;
/** A host that was found to be written to is taken to be for this long. */
const KNOWN_FOR_MS = 1_000;

/** A URL for each host of one, in order: `postgres://u:p@a:5432,b:5433/d` has two. */
export function hostsOf(databaseUrl: string): string[] {
  const match = /^(postgres(?:ql)?:\/\/(?:[^@/]*@)?)([^/?]+)(.*)$/.exec(databaseUrl);
  if (!match) return [databaseUrl];
  const [, head, hosts, tail] = match as unknown as [string, string, string, string];
  // What it asks for is what is done anyway: to find the one that can be written to.
  const rest = tail.replace(/([?&])target_session_attrs=[^&]*&?/, "$1").replace(/[?&]$/, "");
  return hosts.split(",").map((host) => `${head}${host}${rest}`);
}

type Callback = (error: Error) => void;

/**
 * A client class whose connections each go to the host that can be written to: a standby that was promoted is
 * followed. Throws the last host's error where none can.
 */
export function movingClient(urls: readonly string[]): typeof pg.Client {
  let known: { url: string; atMs: number } | null = null;
  const primary = async (): Promise<string> => {
    if (known && Date.now() - known.atMs < KNOWN_FOR_MS) return known.url;
    let last: unknown = new Error("no host is given");
    for (const url of known ? [known.url, ...urls] : urls) {
      try {
        if (await isPrimary(url)) {
          known = { url, atMs: Date.now() };
          return url;
        }
        last = new Error("it can only be read");
      } catch (error) {
        last = error;
      }
    }
    known = null;
    throw new Error(
      `none of ${urls.length} database hosts can be written to: ${last instanceof Error ? last.message : String(last)}`,
    );
  };
  return class MovingClient extends pg.Client {
    override connect(): Promise<pg.Client>;
    override connect(callback: Callback): void;
    override connect(callback?: Callback): Promise<pg.Client> | undefined {
      const connecting = primary().then(async (url): Promise<pg.Client> => {
        const { hostname, port } = new URL(url);
        Object.assign(this, { host: hostname, port: Number(port || 5432) });
        await super.connect();
        return this;
      });
      if (!callback) return connecting;
      connecting.then(() => (callback as (error: Error | null, client?: unknown) => void)(null, this), callback);
      return undefined;
    }
  };
}

async function isPrimary(url: string): Promise<boolean> {
  const probe = new pg.Client({ connectionString: url, connectionTimeoutMillis: PROBE_MS, query_timeout: PROBE_MS });
  probe.on("error", () => {});
  try {
    await probe.connect();
    const { rows } = await probe.query<{ standby: boolean }>("select pg_is_in_recovery() as standby");
    return rows[0]?.standby === false;
  } finally {
    await probe.end().catch(() => {});
  }
}
