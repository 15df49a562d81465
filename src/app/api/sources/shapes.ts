import { z } from "zod";

export const namingSchema = z.strictObject({
  attribute: z.string().max(200),
  names: z.enum(["id", "name", "tag"]),
  tag: z.string().max(200).nullable(),
  account: z.string().max(200).nullable(),
  domain: z.string().max(300).nullable().default(null),
});
export const querySchema = z.strictObject({
  metric: z.string().max(400),
  query: z.string().max(8000),
  label: z.string().max(200),
});
export const sourceSchema = z.strictObject({
  name: z.string().max(400),
  url: z.string().max(2000).nullable(),
  queries: z.array(querySchema).max(200),
  naming: namingSchema,
  stepS: z.number().int(),
});
