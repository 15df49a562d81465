import type pg from "pg";

/** A text that was asked this often is worth keeping ready. */
const OFTEN = 3;
/** Ready statements that a process keeps on each connection: each holds some memory in the server. */
const MOST = 400;
/** Texts that are counted; made-up ones (a column more, a condition less) must not fill the memory. */
const MOST_COUNTED = 4_000;
/** What the server says where a table has changed under a statement that was ready. */
const CHANGED_UNDER_IT = "0A000";

export type ReadyNames = Readonly<{
  /** The name under which the server keeps `text` ready; null for one that is asked too seldom. */
  of: (text: string) => string | null;
  /** `text` is asked under no name from now on. */
  forget: (text: string) => void;
}>;

/** Names for the texts that are asked often, at most `most` of them. */
export function readyNames({ most = MOST }: { most?: number } = {}): ReadyNames {
  const names = new Map<string, string | null>();
  const times = new Map<string, number>();
  return {
    of: (text) => {
      const known = names.get(text);
      if (known !== undefined) return known;
      const asked = (times.get(text) ?? 0) + 1;
      if (asked >= OFTEN && names.size < most) {
        times.delete(text);
        const name = `ready_${names.size}`;
        names.set(text, name);
        return name;
      }
      if (asked > 1 || times.size < MOST_COUNTED) times.set(text, asked);
      return null;
    },
    forget: (text) => {
      names.set(text, null);
    },
  };
}

/** One text has one name in the whole process, on whichever connection it is asked. */
const ofProcess = readyNames();

/**
 * Has a connection keep ready what is asked again and again: half of what a quiet round costs the server is reading
 * and planning texts that it has read before. A statement whose tables were changed since fails once.
 */
export function keepReady(client: pg.PoolClient, names: ReadyNames = ofProcess): void {
  const ask = client.query.bind(client) as (...args: unknown[]) => unknown;
  const heed = (error: unknown, text: string) => {
    if ((error as { code?: unknown } | null)?.code === CHANGED_UNDER_IT) names.forget(text);
  };
  client.query = ((text: unknown, values: unknown, done: unknown) => {
    const name = typeof text === "string" && Array.isArray(values) ? names.of(text) : null;
    if (name === null) return done === undefined ? ask(text, values) : ask(text, values, done);
    const query = { name, text, values };
    if (typeof done === "function")
      return ask(query, (error: unknown, result: unknown) => {
        heed(error, text as string);
        done(error, result);
      });
    return (ask(query) as Promise<unknown>).catch((error: unknown) => {
      heed(error, text as string);
      throw error;
    });
  }) as typeof client.query;
}
