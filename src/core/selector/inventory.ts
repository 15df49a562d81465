import { z } from "zod";

const tagsSchema = z.record(z.string(), z.string());

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
