import { z } from "zod";

const tagsSchema = z.record(z.string(), z.string());

export const RESERVED_KEYS = ["account", "provider", "region", "zone", "name", "kind", "size", "os", "purchase"] as const;
export type ReservedKey = (typeof RESERVED_KEYS)[number];

/** A resource as an inventory file lists it; fields beyond `name` may be missing. */
export const inventoryResourceSchema = z.strictObject({
  name: z.string().min(1),
  account: z.string().optional(),
  provider: z.string().optional(),
  region: z.string().optional(),
  zone: z.string().optional(),
  kind: z.string().optional(),
  size: z.string().optional(),
  os: z.string().optional(),
  purchase: z.string().optional(),
  tags: tagsSchema.optional(),
  container: z.strictObject({ name: z.string().optional(), tags: tagsSchema.optional() }).optional(),
  accountTags: tagsSchema.optional(),
});

export const inventorySchema = z.strictObject({ resources: z.array(inventoryResourceSchema) });

export type InventoryResource = z.infer<typeof inventoryResourceSchema>;

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
