import { type CacheName, cache } from "./caches";

/** Which reading of which data a list is. What is kept beside a list hangs on this: a list that is made of another has none. */
export type DataTag = Readonly<{ version: string }>;

const TAG = Symbol("data tag");
type Tagged = { readonly [TAG]?: DataTag };

/** The list itself, as the reading of data of a version. It is not frozen: the engine goes through frozen ones at half the pace. */
export function tagged<T>(list: readonly T[], version: string): readonly T[] {
  Object.defineProperty(list, TAG, { value: { version } satisfies DataTag });
  return list;
}

/** Of which data a list is; null where it was made for once. */
export function tagOf(list: readonly unknown[]): DataTag | null {
  return (list as Tagged)[TAG] ?? null;
}

/** What is kept beside a list of a known version, made where it is not there or `isGood` says no; beside another it is made each time. */
export function keptBeside<V>(
  name: CacheName,
  list: readonly unknown[],
  { make, isGood = () => true }: Readonly<{ make: () => V; isGood?: (known: V) => boolean }>,
): V {
  const tag = tagOf(list);
  if (tag === null) return make();
  const kept = cache<DataTag, V>(name);
  const known = kept.get(tag);
  if (known !== undefined && isGood(known)) return known;
  const made = make();
  kept.set(tag, made);
  return made;
}
