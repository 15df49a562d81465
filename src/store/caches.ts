/**
 * The one home of what a process keeps in memory (docs/architecture.md, What is kept). Each cache says
 * what it rests on, which is never that a list is the same one; whatever is read under a data version is dropped when that version moves.
 * They hang on the process and not on a module, which may be loaded twice in one.
 */
export const CACHES = {
  inventory: "the data version `resources`: rows that later transactions changed are read again",
  "full inventory": "the same and the data version `versions`, with what is gone",
  versions: "the data version `versions`: what listings said of resources before",
  prices: "the data versions `prices` and `price removals`: points that later transactions changed are read again",
  lives: "the data version `changes`: a few UTC days; what later transactions told is read again",
  claims: "the tag of a list of resources, and plans, hours and rules as text",
  readings: "accounts whose reading is under way, for as long as it is",
  "as of": "the tag of the resources, the data versions `changes`, `plans` and `holds`, and the instant asked about",
  "as of before": "the tag of everything there ever was: what stays from one instant to the next is the same object",
  schedulable: "the tag of a list of resources",
  "names of machines": "the tag of a list of resources and a source's rule as text",
  "names told": "the names of metrics that a source has told, an hour old at most; they only grow meanwhile",
  "near names": "an index of names of machines",
  "sources told": "nothing: what was written down of hosts and series less than ten minutes ago; forgotten it is written again",
  "recent days": "days of samples that there are partitions for; a day that is gone is found out by the database refusing it",
  "series numbers": "numbers that series of samples have for good",
  lateness: "nothing: how late samples came, of which a minute may be missing",
  "accounts asked": "nothing: when an account was last asked for metrics, and how far back; forgotten it is asked once more",
  "tag keys": "the tag of a list of resources",
  cards: "a price history and the providers' rules as text",
  coverable: "the tag of a list of resources, and prices",
  meters: "the tag of one life on one day, and the cards it is charged by",
  "month so far": "the data versions `resources`, `changes`, `prices` and `spend`",
  "month stored": "the data version `spend`",
  "month ahead":
    "the data versions `resources`, `changes`, `plans`, `prices` and `holds`, and what was learned last, to the minute",
  rates: "the tag of the resources, prices, the data versions `changes` and `holds`",
  "rated lines": "one resource as it stands, its cards and its cover",
  picks: "rates and a query",
  groups: "a pick",
  "strip hours": "the data versions `resources`, `changes`, `prices` and `spend`",
} as const;
export type CacheName = keyof typeof CACHES;

const HOME = Symbol.for("umbrik.memory");
type Home = { [HOME]?: Map<CacheName, WeakMap<object, unknown>> };

/** A cache, whose things hang on an object: the pool, or what they were made of; they go when it goes. */
export function cache<K extends object, V>(name: CacheName): WeakMap<K, V> {
  const home = globalThis as Home;
  home[HOME] ??= new Map();
  const caches = home[HOME];
  const known = caches.get(name) ?? new WeakMap<object, unknown>();
  caches.set(name, known);
  return known as WeakMap<K, V>;
}

/** Drops everything that is kept. Whatever is asked next is read and reckoned anew. */
export function forgetAll(): void {
  (globalThis as Home)[HOME]?.clear();
}
