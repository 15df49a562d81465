import type { InventoryResource } from "./inventory";

export const RESERVED_KEYS = ["account", "provider", "region", "zone", "name", "kind", "size", "os", "purchase"] as const;
export type ReservedKey = (typeof RESERVED_KEYS)[number];

/** What a selector looks at: the reserved fields a resource has, and its effective tags. */
export type Selectable = Readonly<{
  fields: Readonly<Partial<Record<ReservedKey, string>>>;
  tags: Readonly<Record<string, string>>;
}>;

type TagSources = Readonly<{
  tags?: Readonly<Record<string, string>> | undefined;
  containerTags?: Readonly<Record<string, string>> | undefined;
  accountTags?: Readonly<Record<string, string>> | undefined;
}>;

/** The account's tags, overlaid by the container's, overlaid by the resource's own. */
export function effectiveTags({ tags, containerTags, accountTags }: TagSources): Record<string, string> {
  return Object.assign(Object.create(null), accountTags, containerTags, tags) as Record<string, string>;
}

/** The selectable view of one inventory resource. */
export function selectable(resource: InventoryResource): Selectable {
  const fields: Partial<Record<ReservedKey, string>> = {};
  for (const key of RESERVED_KEYS) {
    const value = resource[key];
    if (value !== undefined) fields[key] = value;
  }
  return {
    fields,
    tags: effectiveTags({ tags: resource.tags, containerTags: resource.container?.tags, accountTags: resource.accountTags }),
  };
}
