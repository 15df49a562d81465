/**
 * The one home of what a process keeps in memory (docs/architecture.md, What is kept). Each cache says
 * what it rests on; whatever is read under a data version is dropped when that version moves.
 * They hang on the process and not on a module, which may be loaded twice in one.
 */
export const CACHES = {
  inventory: "the data version `resources`: rows that later transactions changed are read again",
  "full inventory": "the same and the data version `versions`, with what is gone",
  versions: "the data version `versions`: what listings said of resources before",
  prices: "the data versions `prices` and `price removals`: points that later transactions changed are read again",
  lives: "the data version `changes`: a few UTC days; what later transactions told is read again",
  claims: "a list of resources, and plans, hours and rules as text",
  readings: "accounts whose reading is under way, for as long as it is",
  "as of": "a list of resources, the data versions `changes` and `holds`, and the instant asked about",
  "as of before": "a list of resources: what stays from one instant to the next is the same object",
  schedulable: "a list of resources",
  "names of machines": "a list of resources and a source's rule as text",
  "sources told": "nothing: what was written down of hosts and series less than ten minutes ago; forgotten it is written again",
  "tag keys": "a list of resources",
  cards: "a price history and the providers' rules as text",
  coverable: "a list of resources and prices",
  meters: "one life on one day and the cards it is charged by",
  "month so far": "the data versions `resources`, `changes`, `prices` and `spend`",
  "month stored": "the data version `spend`",
  "month ahead": "the data versions `resources`, `changes`, `plans`, `prices` and `holds`, to the minute",
  rates: "a list of resources, prices, the data versions `changes` and `holds`",
  "rated lines": "one resource as it stands, its cards and its cover",
  picks: "rates and a query",
  groups: "an order of rates",
  "strip hours": "the data versions `resources`, `changes`, `prices` and `spend`",
} as const;
export type CacheName = keyof typeof CACHES;

const HOME = Symbol.for("umbrik.memory");
type Home = { [HOME]?: Map<CacheName, WeakMap<object, unknown>> };

/** A cache, whose things hang on an object: the pool, or what they were made of; they go when it goes. */
export function cache<K extends object, V>(name: CacheName): WeakMap<K, V> {
  const home = globalThis as Home;
  home[HOME] ??= new Map();
  const rooms = home[HOME];
  const known = rooms.get(name) ?? new WeakMap<object, unknown>();
  rooms.set(name, known);
  return known as WeakMap<K, V>;
}

/** Drops everything that is kept. Whatever is asked next is read and reckoned anew. */
export function forgetAll(): void {
  (globalThis as Home)[HOME]?.clear();
}
