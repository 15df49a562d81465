import type { Resource } from "../plan";
import { isSchedulable } from "../plan";
import { isMistake } from "../selector";

/** A tag that is likely mistyped, beside what nearly all others of its kind say. */
export type MistypedTag = Readonly<{ found: string; meant: string; meantCount: number; resources: readonly Resource[] }>;

/** A mistake is rare: what is meant stands on so many times as many. */
const TIMES = 5;
/** A key with more values than this for so many resources names things, one by one: people, say. */
const NAMES_SHARE = 0.2;

/** Values of a key, and keys themselves, that are a letter or two off a far more frequent one. */
export function mistypedTags(resources: readonly Resource[]): readonly MistypedTag[] {
  const machines = resources.filter(isSchedulable);
  const byKey = new Map<string, Map<string, Resource[]>>();
  for (const resource of machines) {
    for (const [key, value] of Object.entries(resource.tags)) {
      const values = byKey.get(key) ?? new Map<string, Resource[]>();
      byKey.set(key, values);
      const own = values.get(value);
      if (own) own.push(resource);
      else values.set(value, [resource]);
    }
  }
  const found: MistypedTag[] = [];
  const keys = new Map([...byKey].map(([key, values]) => [key, [...values.values()].flat()]));
  for (const [key, own] of keys) {
    const meant = likelyMeant(key, own.length, keys);
    if (meant) found.push({ found: key, meant: meant.name, meantCount: meant.count, resources: own });
  }
  for (const [key, values] of byKey) {
    if (values.size > Math.max(3, (keys.get(key)?.length ?? 0) * NAMES_SHARE)) continue;
    for (const [value, own] of values) {
      const meant = likelyMeant(value, own.length, values);
      if (meant) found.push({ found: `${key}=${value}`, meant: `${key}=${meant.name}`, meantCount: meant.count, resources: own });
    }
  }
  return found;
}

function likelyMeant(
  text: string,
  count: number,
  known: ReadonlyMap<string, readonly Resource[]>,
): { name: string; count: number } | null {
  let best: { name: string; count: number } | null = null;
  for (const [name, own] of known) {
    if (own.length < count * TIMES || own.length <= (best?.count ?? 0)) continue;
    if (isMistake(text, name)) best = { name, count: own.length };
  }
  return best;
}
